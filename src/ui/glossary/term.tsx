import type { ReactNode } from 'react'
import { TERMS, type TermKey } from './terms'

/** A term of the trade where it stands: its definition shows on hover and on focus, a press leads to the glossary. */
export const Term = ({ of, children }: { of: TermKey; children?: ReactNode }) => (
  <a href={`/glossary#${of}`} className="term">
    {children ?? TERMS[of].term}
    <span role="tooltip" className="term-tip">
      {TERMS[of].says}
    </span>
  </a>
)

/** All terms, for people who look one up. */
export const Glossary = () => (
  <dl className="mt-8 grid max-w-3xl gap-5">
    {Object.entries(TERMS).map(([key, { term, says }]) => (
      <div key={key} id={key} className="scroll-mt-8">
        <dt className="font-semibold">{term}</dt>
        <dd className="text-soft">{says}</dd>
      </div>
    ))}
  </dl>
)
