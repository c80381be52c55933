import type { SessionView } from '#server/view'
import { duration } from '#ui/static'
import { SurveyMatrix } from '../evidence/survey'
import { DEPTH_LABEL } from '../key-table'
import { Above, type Of } from './next-parts'

export const FLASH_CAUTION =
  'The screen flashes white twice a second while the probe looks. Flashing light can bring on seizures in photosensitive people: anyone who may be photosensitive should not look at the screen, and no one has to. P pauses after the flashes that were begun, six seconds at most.'

export const ChooseFlashes = () => (
  <>
    <Above>Latency is measured with flashes</Above>
    <h1 className="figure text-5xl">
      May the screen <span className="text-lamp">flash</span>?
    </h1>
    <p className="max-w-3xl text-lg">{FLASH_CAUTION}</p>
    <p className="text-soft">
      Without it latency is not measured, and what shortens it is set as the sheet says.
    </p>
  </>
)

/** How far multi-point white balance goes: what each depth reaches and what it costs. */
export const ChooseDepth = ({
  next,
  chosen,
  onChoose,
}: {
  next: Of<'choose-depth'>
  chosen: Of<'choose-depth'>['proposed']
  onChoose: (depth: Of<'choose-depth'>['proposed']) => void
}) => {
  const first = next.options[0]?.error ?? 0
  return (
    <>
      <Above>Multi-point white balance</Above>
      <h1 className="figure text-4xl">
        How far: <span className="text-lamp">{DEPTH_LABEL[chosen].toLowerCase()}</span>
      </h1>
      <table className="quiet-table max-w-3xl">
        <caption className="sr-only">Depths, what they reach and what they cost</caption>
        <thead>
          <tr>
            <th scope="col">Depth</th>
            <th scope="col" className="n">
              <span className="max-sm:sr-only">Average greyscale </span>ΔE00
            </th>
            <th scope="col" className="n">
              Values
            </th>
            <th scope="col" className="n max-sm:hidden">
              Clicks
            </th>
            {next.worth !== null && (
              <>
                <th scope="col" className="n">
                  <span className="max-sm:sr-only">With the </span>
                  <span className="max-sm:capitalize">remote</span>
                </th>
                <th scope="col" className="n max-sm:hidden">
                  Gain a minute
                </th>
              </>
            )}
          </tr>
        </thead>
        <tbody>
          {next.options.map(({ depth, error, cost }, i) => (
            <tr key={depth} aria-current={depth === chosen || undefined}>
              <th scope="row">
                <button
                  type="button"
                  className={`flex min-h-11 items-center gap-2 text-left ${depth === chosen ? 'font-bold text-lamp' : 'text-ink'}`}
                  aria-pressed={depth === chosen}
                  onClick={() => onChoose(depth)}
                >
                  <span className="key shrink-0">{i + 1}</span>
                  <span>
                    {DEPTH_LABEL[depth]}
                    {depth === next.proposed && <span className="font-normal text-soft"> · proposed</span>}
                  </span>
                </button>
              </th>
              <td className="n">{error.toFixed(2)}</td>
              <td className="n">{cost.values}</td>
              <td className="n max-sm:hidden">{cost.clicks}</td>
              {next.worth !== null && (
                <>
                  <td className="n">{cost.values === 0 ? '–' : duration(cost.seconds ?? 0)}</td>
                  <td className="n max-sm:hidden">
                    {cost.values === 0 || !cost.seconds
                      ? '–'
                      : ((60 * (first - error)) / cost.seconds).toFixed(2)}
                  </td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="max-w-3xl text-soft">
        {next.worth === null
          ? 'The bench sets the values; fewer of them are fewer for readers to copy.'
          : `By the policy a minute has to gain ΔE00 ${next.worth}. Side by side, hardly anyone sees a difference below ΔE00 1.`}
      </p>
    </>
  )
}

export const ChooseGreen = ({ next }: { next: Of<'choose-green'> }) => {
  const [without, moved] = [next.without, next.with].map((error) => (
    <strong key={error} className="num">
      {error.toFixed(1)}
    </strong>
  ))
  return (
    <>
      <Above>The policy “{next.policy}” leaves green alone</Above>
      <h1 className="figure text-5xl">
        Adjust <span className="text-lamp">green</span> here?
      </h1>
      <p className="max-w-3xl text-lg">
        {next.reason === 'ran-out' ? (
          <>
            Red or blue cannot go any further up. With green left alone, the worst level stays at ΔE00{' '}
            {without}; with the other channels brought down to it, {moved}.
          </>
        ) : (
          <>
            Red and blue have done what they can: greys average ΔE00 {without}. With green adjusted as well,{' '}
            {moved}.
          </>
        )}
      </p>
      <p className="text-soft">
        {next.light > 0.005
          ? `White loses about ${(100 * next.light).toFixed(0)} % of its light, which the luminance control makes up for as far as it reaches. `
          : 'White keeps its light. '}
        The guide says that green was moved, and why.
      </p>
    </>
  )
}

export const ChooseMode = ({
  view,
  chosen,
  onChoose,
}: {
  view: SessionView
  chosen: string
  onChoose: (mode: string) => void
}) => (
  <>
    <Above>Which mode to start from</Above>
    <h1 className="figure text-4xl">
      Take{' '}
      <span className="text-lamp">
        “{view.findings.survey.find((m) => m.mode === chosen)?.label ?? 'one of them'}”
      </span>
    </h1>
    <SurveyMatrix rows={view.findings.survey} chosen={chosen} onChoose={onChoose} />
    <p className="min-h-12 text-soft">
      {view.findings.survey.find((m) => m.mode === chosen)?.reasons.join(' ')}
    </p>
  </>
)
