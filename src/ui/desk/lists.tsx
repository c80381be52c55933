import Link from 'next/link'
import type { UnitCard } from '#server/unit'
import { day, stepAt } from '#ui/static'

/** A unit in a list: what it is, how far it has come, where to go on. */
export const UnitRow = ({ unit }: { unit: UnitCard }) => (
  <li className="rule-b grid gap-x-6 gap-y-1 py-4 sm:grid-cols-[1fr_14rem_11rem] sm:items-center">
    <div>
      <Link href={`/units/${unit.id}`} className="text-lg font-semibold hover:underline">
        {unit.display}, {unit.label}
      </Link>
      <p className="text-sm text-faint">
        {unit.serial}, firmware {unit.firmware}, {unit.origin}
        {unit.returnsOn ? `, goes back ${day(unit.returnsOn)}` : ''}
      </p>
    </div>
    <p className="text-soft">
      {unit.session
        ? unit.guide?.published
          ? `${unit.session.caseLabel}: published`
          : `${unit.session.caseLabel}: ${stepAt(unit.session.at)}`
        : 'no readings yet'}
      <span className="block text-sm text-faint">
        {unit.readings} {unit.readings === 1 ? 'reading' : 'readings'}
        {unit.onBench ? ', on the bench' : ''}
      </span>
    </p>
    <p className="sm:text-right">
      {unit.guide?.published ? (
        <a className="link" href={`/guides/${unit.guide.slug}`}>
          Its guide
        </a>
      ) : unit.session ? (
        <Link className="link" href={`/sessions/${unit.session.id}`}>
          Go on
        </Link>
      ) : (
        <Link className="link" href={`/units/${unit.id}`}>
          Begin
        </Link>
      )}
    </p>
  </li>
)

/** A search over a list, in the address, so that it can be kept and shared; needs no script. */
export const ListSearch = ({
  action,
  search,
  label,
  hidden = {},
}: {
  action: string
  search: string
  label: string
  hidden?: Readonly<Record<string, string>>
}) => (
  <form action={action} className="flex flex-wrap items-end gap-3">
    <label className="grid gap-1 text-sm text-soft">
      {label}
      <input type="search" name="q" defaultValue={search} maxLength={100} className="field w-72" />
    </label>
    {Object.entries(hidden).map(([name, value]) => (
      <input key={name} type="hidden" name={name} value={value} />
    ))}
    <button type="submit" className="button button-quiet">
      Search
    </button>
  </form>
)

/** Ways to a unit that stands on no bench. */
export const AddUnit = () => (
  <p className="flex flex-wrap gap-x-6 gap-y-1 text-sm">
    <Link className="link" href="/units/new">
      Add a unit by hand
    </Link>
    <Link className="link" href="/archives">
      Import a unit
    </Link>
  </p>
)
