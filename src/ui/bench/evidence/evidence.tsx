'use client'

import { Tabs } from 'radix-ui'
import type { ReactNode } from 'react'
import { playBlocks } from '#core/guide/formats'
import type { GreyVerdict } from '#core/judge'
import type { StepKey } from '#core/steps'
import type { SessionView, SpreadView } from '#server/view'
import { BlockSections } from '#ui/blocks'
import {
  ClicksAwayBars,
  GammaChart,
  type GreyScales,
  HdrWhiteChart,
  Mark,
  WhiteErrorChart,
  WhitePath,
} from '#ui/charts'
import { Term, type TermKey } from '#ui/glossary'
import { ColourPanel } from './colour-panel'
import { HdrPanel, MappingPanel } from './hdr-panels'
import { PANEL_OF, type PanelKey, stepAtHand } from './panel-of-step'
import { ByLevelPanel, LevelsPanel, PresetPanel, TonePanel } from './panels'
import { ProcessingPanel, ValuesPanel } from './processing-panel'
import { SurveyMatrix } from './survey'

/** Nothing was moved since the out-of-the-box sweep: the display is as it was then. */
const untouched = ({ factory, current }: SessionView): boolean => {
  const known = new Set(factory?.verdict.levels.map((l) => l.readingId))
  return current?.verdict.levels.every((l) => known.has(l.readingId)) ?? true
}

interface Panel {
  readonly key: PanelKey
  readonly title: string
  readonly body: ReactNode
}

/** Evidence for what the page says: the panel of the step at hand, and all others a key away. */
export const Evidence = ({
  view,
  chosen,
  onChoose,
  onUseAgain,
}: {
  view: SessionView
  /** The panel that was chosen at this step; undefined: the one that fits. */
  chosen: PanelKey | undefined
  onChoose: (panel: PanelKey) => void
  onUseAgain: (control: string) => void
}) => {
  const at = stepAtHand(view)
  // While something is chosen the whole page is about it.
  const isChoice = view.next.kind === 'choose-mode' || view.next.kind === 'choose-mapping'
  const panels = isChoice && !view.run ? [] : panelsOf(view, at, onUseAgain)
  const fits = panels.find((p) => p.key === PANEL_OF[at]) ?? panels[0]
  if (isChoice && !view.run) return null
  if (!fits)
    return (
      <p className="max-w-xl text-faint">
        Charts of gamma, greyscale ΔE and RGB balance appear here with the first readings.
      </p>
    )
  const shown = panels.find((p) => p.key === chosen) ?? fits
  return (
    <Tabs.Root value={shown.key} onValueChange={(key) => onChoose(key as PanelKey)}>
      <Tabs.List aria-label="Evidence" className="mb-4 flex flex-wrap gap-x-5 gap-y-1">
        {panels.map((p) => (
          <Tabs.Trigger
            key={p.key}
            value={p.key}
            // Whoever looked with the pointer goes on with Space: it belongs to the bench, not to the tab.
            onPointerUp={(e) => e.currentTarget.blur()}
            className="min-h-8 border-transparent border-b-2 text-sm text-soft hover:text-ink data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink"
          >
            {p.title}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      <Tabs.Content value={shown.key}>{shown.body}</Tabs.Content>
    </Tabs.Root>
  )
}

const panelsOf = (view: SessionView, at: StepKey, onUseAgain: (control: string) => void): Panel[] => {
  const { findings } = view
  const factory = view.factory?.verdict
  const after = view.after && !view.after.stale ? view.after.verdict : undefined
  const now = at === 'out-of-box' || at === 'prepare' || untouched(view) ? undefined : view.current?.verdict
  // While the display is read out of the box, what has come in so far is drawn.
  const outOfBox = factory ?? (at === 'out-of-box' ? view.current?.verdict : undefined)
  const scales: GreyScales = { factory: outOfBox, now: after ?? now, nowLabel: after ? 'final' : 'now' }
  const panels: Panel[] = []
  const panel = (key: PanelKey, title: string, body: ReactNode) => panels.push({ key, title, body })
  if (factory || view.current) panel('grey', 'Greyscale', <Greys view={view} scales={scales} at={at} />)
  if (findings.survey.length > 0)
    panel(
      'survey',
      'Survey',
      <SurveyMatrix
        rows={findings.survey}
        chosen={findings.survey.find((m) => m.chosen)?.mode ?? ''}
        complete={view.run?.purpose !== 'survey'}
      />,
    )
  const { levels } = findings
  if (levels && (levels.luminance || levels.black || levels.whiteLevel))
    panel('levels', 'Luminance', <LevelsPanel levels={levels} />)
  if (findings.tones && findings.tones.options.length > 0)
    panel('tone', 'Gamma', <TonePanel tones={findings.tones} />)
  if (findings.mappings && view.next.kind !== 'choose-mapping')
    panel('mapping', 'Tone mapping', <MappingPanel mappings={findings.mappings} />)
  if (findings.hdr) panel('hdr', 'HDR', <HdrPanel hdr={findings.hdr} />)
  const { play } = findings
  if (play?.latency || play?.refresh || play?.sourceScreens)
    panel(
      'latency',
      'Games',
      <BlockSections
        blocks={playBlocks({
          latency: play.latency,
          sourceScreens: play.sourceScreens,
          refresh: play.refresh,
          beside: play.beside,
        })}
      />,
    )
  if (play?.clamps || play?.uniformity)
    panel(
      'desktop',
      'Desktop',
      <BlockSections
        blocks={playBlocks({ clamps: play.clamps, uniformity: play.uniformity, beside: play.beside })}
      />,
    )
  if (play?.helpers)
    panel(
      'helpers',
      play.helpers.some((h) => h.rows.some((r) => r.onOff !== undefined)) ? 'Contrast' : 'Options',
      <BlockSections blocks={playBlocks({ helpers: play.helpers })} />,
    )
  if (play?.response)
    panel('response', 'Response', <BlockSections blocks={playBlocks({ response: play.response })} />)
  if (view.away.length > 0 || findings.presets)
    panel(
      'white',
      'White',
      <div className="grid grid-cols-[minmax(0,1fr)] gap-8">
        <div className="grid grid-cols-[minmax(0,1fr)] gap-8 md:grid-cols-[minmax(0,1fr)_17rem]">
          {view.away.length > 0 && <ClicksAwayBars away={view.away} />}
          <WhitePath scales={scales} height={270} />
        </div>
        {findings.presets && <PresetPanel presets={findings.presets} />}
      </div>,
    )
  if (findings.byLevel.length > 0) panel('by-level', 'Multi-point', <ByLevelPanel rows={findings.byLevel} />)
  if (findings.colour && findings.colour.rows.length > 0)
    panel('colour', 'Colour', <ColourPanel colour={findings.colour} unit={view.hdr ? 'ΔE ITP' : 'ΔE00'} />)
  if (factory && (findings.dimming || findings.watching.length > 0))
    panel('processing', 'Processing', <ProcessingPanel findings={findings} />)
  if (factory && view.after) panel('result', 'Before and after', <Result view={view} scales={scales} />)
  if (factory) panel('values', 'Values and rules', <ValuesPanel view={view} onUseAgain={onUseAgain} />)
  return panels
}

const Greys = ({ view, scales, at }: { view: SessionView; scales: GreyScales; at: StepKey }) => (
  <div className="grid grid-cols-[minmax(0,1fr)] gap-5">
    {view.factory && at !== 'out-of-box' && (
      <p className="max-w-3xl">
        <strong className="font-semibold">Out of the box. </strong>
        <span className="text-soft">{view.factory.sentences.join(' ')}</span>
      </p>
    )}
    {view.hdr ? (
      <div className="grid grid-cols-[minmax(0,1fr)] gap-6 md:grid-cols-2">
        <HdrWhiteChart scales={scales} height={230} />
        <WhitePath scales={scales} height={230} />
      </div>
    ) : (
      <div className="grid grid-cols-[minmax(0,1fr)] gap-6 md:grid-cols-3">
        <WhiteErrorChart scales={scales} height={185} />
        <GammaChart scales={scales} height={185} />
        <WhitePath scales={scales} height={185} />
      </div>
    )}
  </div>
)

const Result = ({ view, scales }: { view: SessionView; scales: GreyScales }) => {
  const before = view.factory?.verdict
  const after = view.after?.verdict
  if (!before || !after) return null
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-6">
      {view.after?.stale && (
        <p className="text-lamp">Something has changed since: these results belong to the earlier state.</p>
      )}
      {view.next.kind !== 'worse' &&
        view.after?.worse.map((w) => (
          <p key={w} className="flex gap-3 text-lamp">
            <span aria-hidden="true" className="mt-1.5 size-2 shrink-0 border border-lamp" />
            Worse than before: {w}
          </p>
        ))}
      <BeforeAfter before={before} after={after} colours={view.colours} hdr={view.hdr} />
      <BoughtTable bought={view.findings.bought} />
      <div className="grid grid-cols-[minmax(0,1fr)] gap-6 md:grid-cols-3">
        {view.hdr ? (
          <HdrWhiteChart scales={scales} height={180} />
        ) : (
          <>
            <WhiteErrorChart scales={scales} height={180} />
            <GammaChart scales={scales} height={180} />
          </>
        )}
        <WhitePath scales={scales} height={180} />
      </div>
    </div>
  )
}

const number = (value: number | undefined, digits: number) =>
  value === undefined
    ? '–'
    : value.toLocaleString('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits })

const pair = (average: number, worst: number) => `${number(average, 1)} / ${number(worst, 1)}`
const spread = (s: SpreadView | null | undefined) => (s ? pair(s.average, s.worst) : '–')

/** What each adjustment bought, in the order in which they were made. */
const BoughtTable = ({ bought }: { bought: SessionView['findings']['bought'] }) =>
  bought.length < 3 ? null : (
    <table className="quiet-table tight">
      <caption className="text-left font-semibold">What each adjustment bought</caption>
      <thead>
        <tr>
          <th scope="col">After</th>
          <th scope="col" className="n">
            <Term of="greyscale">Greyscale, average ΔE00</Term>
          </th>
          <th scope="col" className="n">
            change
          </th>
        </tr>
      </thead>
      <tbody>
        {bought.map(({ step, error }, i) => (
          <tr key={step}>
            <th scope="row">{step}</th>
            <td className="n">{number(error, 1)}</td>
            <td className="n text-soft">{i === 0 ? '' : signed(error - bought[i - 1]!.error)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )

/** A change with its sign, to a tenth. */
const signed = (value: number): string =>
  Math.abs(value) < 0.05 ? '±0.0' : `${value < 0 ? '−' : '+'}${number(Math.abs(value), 1)}`

type Row = readonly [term: TermKey, name: string, before: string, after: string, target: string]

/** Before and after, figure by figure. */
const BeforeAfter = ({
  before,
  after,
  colours,
  hdr,
}: {
  /** Errors of colours are ΔE ITP, and light is absolute. */
  hdr: boolean
  before: GreyVerdict
  after: GreyVerdict
  colours: SessionView['colours']
}) => {
  const rows: Row[] = [
    [
      'peak-white',
      hdr ? 'Brightest balanced grey, cd/m²' : 'White, cd/m²',
      number(before.white.luminance, 1),
      number(after.white.luminance, 1),
      '',
    ],
    [
      'greyscale',
      'Greyscale, average / worst ΔE00',
      pair(before.whiteError.average, before.whiteError.worst),
      pair(after.whiteError.average, after.whiteError.worst),
      '0',
    ],
    [
      'greyscale-luminance',
      'Greyscale including luminance, average / worst ΔE00',
      pair(before.fullError.average, before.fullError.worst),
      pair(after.fullError.average, after.fullError.worst),
      '0',
    ],
    ...(after.nearBlack
      ? ([
          [
            'greyscale-luminance',
            'Near black including luminance, average / worst ΔE00',
            '–',
            pair(after.nearBlack.average, after.nearBlack.worst),
            '0',
          ],
        ] as Row[])
      : []),
    ...(colours
      ? ([
          [
            'memory-colours',
            `Memory colours, average / worst ${hdr ? 'ΔE ITP' : 'ΔE00'}`,
            spread(colours.before.natural),
            spread(colours.after?.natural),
            '0',
          ],
          [
            'primaries',
            `${hdr ? 'P3 primaries' : 'Primaries'} and secondaries, average / worst ${hdr ? 'ΔE ITP' : 'ΔE00'}`,
            spread(colours.before.six),
            spread(colours.after?.six),
            '0',
          ],
        ] as Row[])
      : []),
    [
      'cct',
      'White point, CCT in K / Duv',
      `${number(before.white.cct, 0)} / ${before.white.duv.toFixed(4)}`,
      `${number(after.white.cct, 0)} / ${after.white.duv.toFixed(4)}`,
      '6,504 / 0.0032',
    ],
    ...(hdr
      ? []
      : ([
          ['gamma', 'Gamma', number(before.gamma, 2), number(after.gamma, 2), number(after.wantedGamma, 2)],
        ] as Row[])),
    ['black-level', 'Black, cd/m²', number(before.black, 3), number(after.black, 3), ''],
    ...(hdr
      ? []
      : ([['contrast', 'Contrast', number(before.contrast, 0), number(after.contrast, 0), '']] as Row[])),
  ]
  return (
    <table className="quiet-table tight">
      <caption className="sr-only">Before and after</caption>
      <thead>
        <tr>
          <td />
          <th scope="col" className="n">
            <Mark kind="out-of-box" /> before
          </th>
          <th scope="col" className="n">
            <Mark kind="now" /> after
          </th>
          <th scope="col" className="n max-sm:hidden">
            <Mark kind="target" /> target
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([term, name, a, b, target]) => (
          <tr key={name}>
            <th scope="row">
              <Term of={term}>{name}</Term>
            </th>
            <td className="n text-soft">{a}</td>
            <td className="n font-semibold">{b}</td>
            <td className="n text-faint max-sm:hidden">{target}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
