import { type GuidePlay, sayOvershoot } from '#core/guide'

const number = (value: number | null, digits = 0) => (value === null ? '–' : value.toFixed(digits))
const hertz = (rate: number) => `${Math.round(rate)} Hz`
const POSITION = { top: 'Top', middle: 'Middle', bottom: 'Bottom' } as const

/** Delays by option and rate, and where on the screen; what helps where is told by a word, not by colour. */
export const LatencyTable = ({ latency }: { latency: NonNullable<GuidePlay['latency']> }) => (
  <section className="grid grid-cols-[minmax(0,1fr)] gap-4">
    <div>
      <table className="quiet-table tight w-full">
        <caption className="mb-1 text-left font-semibold">Latency, ms, in the middle of the screen</caption>
        <thead>
          <tr>
            <th scope="col">Option</th>
            {latency.rates.map((rate) => (
              <th key={rate} scope="col" className="n">
                {hertz(rate)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {latency.options.map((o) => (
            <tr key={o.label}>
              <th scope="row" className={o.chosen ? 'font-bold' : 'font-normal'}>
                {o.label}
                {o.chosen && <span className="font-normal text-faint"> · as set here</span>}
              </th>
              {o.cells.map((c, i) => (
                <td key={latency.rates[i]} className={`n ${o.chosen ? 'font-bold' : ''}`}>
                  {c === null ? (
                    '–'
                  ) : (
                    <>
                      {c.mean.toFixed(1)}
                      <span className="block text-xs font-normal text-faint">
                        <span className="max-sm:hidden">
                          {c.frames.toFixed(1)} frames{c.helps === null ? '' : ', '}
                        </span>
                        {c.helps === null ? '' : c.helps ? `saves ${number(c.saves)}` : 'no effect'}
                      </span>
                    </>
                  )}
                </td>
              ))}
            </tr>
          ))}
          {latency.places
            .filter((p) => p.position !== 'middle')
            .map((p) => (
              <tr key={p.position}>
                <th scope="row" className="font-normal text-soft">
                  {POSITION[p.position]}
                  <span className="max-sm:hidden"> of the screen, as set here</span>
                </th>
                {p.cells.map((c, i) => (
                  <td key={latency.rates[i]} className="n text-soft">
                    {number(c, 1)}
                  </td>
                ))}
              </tr>
            ))}
        </tbody>
      </table>
    </div>
    {latency.sentences.length > 0 && (
      <ul className="grid max-w-2xl gap-1 text-soft">
        {latency.sentences.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
    )}
  </section>
)

/** Light near black and in the middle at several rates of variable refresh. */
export const RefreshTable = ({ refresh }: { refresh: NonNullable<GuidePlay['refresh']> }) => (
  <section>
    <table className="quiet-table tight w-full">
      <caption className="mb-1 text-left font-semibold">Variable refresh: luminance, cd/m²</caption>
      <thead>
        <tr>
          <th scope="col">Grey</th>
          {refresh.rates.map((rate) => (
            <th key={rate} scope="col" className="n">
              {hertz(rate)}
            </th>
          ))}
          <th scope="col" className="n">
            Change
          </th>
        </tr>
      </thead>
      <tbody>
        {refresh.levels.map((l) => (
          <tr key={l.label}>
            <th scope="row" className="font-normal">
              {l.label}
            </th>
            {l.luminance.map((v, i) => (
              <td key={refresh.rates[i]} className="n">
                {number(v, v !== null && v < 1 ? 3 : 2)}
              </td>
            ))}
            <td className={`n ${l.seen ? 'font-bold' : 'text-soft'}`}>
              {(100 * l.change).toFixed(1)} %{l.seen ? ', seen as flicker' : ', not seen'}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  </section>
)

/** What to enter on the HDR screens of a game source. */
export const SourceScreensList = ({ screens }: { screens: NonNullable<GuidePlay['sourceScreens']> }) => (
  <section>
    <p className="mb-2 font-semibold">On the source’s own HDR screens</p>
    <dl className="mb-2 grid max-w-md grid-cols-[1fr_auto] gap-x-6 gap-y-1">
      {(
        [
          ['Small white window', screens.peak],
          ['White on the whole screen', screens.fullFrame],
        ] as const
      ).map(([name, value]) =>
        value === null ? null : (
          <div key={name} className="contents">
            <dt>{name}</dt>
            <dd className="num text-right font-bold">{value.toLocaleString('en-GB')} cd/m²</dd>
          </div>
        ),
      )}
    </dl>
    {screens.sentences.slice(0, 2).map((s) => (
      <p key={s} className="max-w-2xl text-soft">
        {s}
      </p>
    ))}
  </section>
)

/** Standard content in each value of the gamut control. */
export const ClampTable = ({ clamps }: { clamps: NonNullable<GuidePlay['clamps']> }) => (
  <section>
    <table className="quiet-table tight w-full max-w-xl">
      <caption className="mb-1 text-left font-semibold">Standard content in each gamut</caption>
      <thead>
        <tr>
          <th scope="col">Gamut</th>
          <th scope="col" className="n">
            Memory colours, average ΔE00
          </th>
          <th scope="col" className="n">
            Gamma
          </th>
        </tr>
      </thead>
      <tbody>
        {clamps.map((c) => (
          <tr key={c.label}>
            <th scope="row" className={c.chosen ? 'font-bold' : 'font-normal'}>
              {c.label}
              {c.chosen && <span className="font-normal text-faint"> · as set here</span>}
            </th>
            <td className="n">{c.natural.toFixed(1)}</td>
            <td className="n">{number(c.gamma, 2)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  </section>
)

/** The screen as a map: each place with its light as a share of the brightest, and how far its colour is from the middle. */
export const UniformityMap = ({ uniformity }: { uniformity: NonNullable<GuidePlay['uniformity']> }) => {
  const ys = [...new Set(uniformity.rows.map((r) => r.y))].sort((a, b) => a - b)
  const xs = [...new Set(uniformity.rows.map((r) => r.x))].sort((a, b) => a - b)
  const brightest = Math.max(...uniformity.rows.map((r) => r.luminance))
  return (
    <section>
      <table className="w-full max-w-xl border-separate border-spacing-0.5 text-center text-sm">
        <caption className="mb-1 text-left font-semibold">
          Uniformity: light as % of the brightest place, and Δu′v′ from the middle
        </caption>
        <tbody>
          {ys.map((y) => (
            <tr key={y}>
              {xs.map((x) => {
                const row = uniformity.rows.find((r) => r.x === x && r.y === y)
                const share = row ? row.luminance / brightest : 0
                return (
                  <td
                    key={x}
                    className="num border border-line px-1 py-2"
                    style={{ opacity: row ? 0.55 + 0.45 * Math.max(0, (share - 0.5) / 0.5) : 0.4 }}
                  >
                    {row ? (
                      <>
                        <strong>{(100 * share).toFixed(0)} %</strong>
                        <span className="block text-xs">{row.deltaUv.toFixed(4)}</span>
                      </>
                    ) : (
                      'not read'
                    )}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 max-w-2xl text-soft">
        The darkest place gives {(100 * uniformity.evenness).toFixed(0)} % of the light of the brightest;
        colour differs by up to {uniformity.worstUv.toFixed(4)} from the middle (about 0.004 begins to be
        seen).
      </p>
    </section>
  )
}

/** What each value of a helper, an iris or a light source does; columns that nothing stands in are left out. */
export const HelperTables = ({ helpers }: { helpers: NonNullable<GuidePlay['helpers']> }) => (
  <div className="grid grid-cols-[minmax(0,1fr)] gap-8">
    {helpers.map((h) => {
      const has = (key: 'steps' | 'middle' | 'near' | 'onOff' | 'board') =>
        h.rows.some((r) => r[key] !== undefined)
      const ratio = (value: number | undefined) => (value === undefined ? '–' : `${Math.round(value)}:1`)
      return (
        <section key={h.label}>
          <table className="quiet-table tight w-full max-w-3xl">
            <caption className="mb-1 text-left font-semibold">
              “{h.label}” <span className="font-normal text-faint">{h.term}</span>
            </caption>
            <thead>
              <tr>
                <th scope="col">Value</th>
                {has('steps') && (
                  <th scope="col" className="n">
                    Steps seen
                  </th>
                )}
                {has('near') && (
                  <th scope="col" className="n">
                    At {h.near}, cd/m²
                  </th>
                )}
                {has('middle') && (
                  <th scope="col" className="n">
                    Middle, cd/m²
                  </th>
                )}
                {!has('near') && (
                  <th scope="col" className="n">
                    White, cd/m²
                  </th>
                )}
                {has('onOff') && (
                  <th scope="col" className="n">
                    On/off contrast
                  </th>
                )}
                {has('board') && (
                  <th scope="col" className="n">
                    Checkerboard
                  </th>
                )}
              </tr>
            </thead>
            <tbody>
              {h.rows.map((r) => (
                <tr key={r.label}>
                  <th scope="row" className={r.chosen ? 'font-bold' : 'font-normal'}>
                    {r.label}
                    {r.chosen && <span className="font-normal text-faint"> · as set here</span>}
                  </th>
                  {has('steps') && (
                    <td className="n">
                      {r.steps ?? '–'} of {h.steps}
                    </td>
                  )}
                  {has('near') && <td className="n">{number(r.near ?? null, (r.near ?? 0) < 10 ? 2 : 0)}</td>}
                  {has('middle') && <td className="n">{number(r.middle ?? null, 1)}</td>}
                  {!has('near') && <td className="n">{number(r.luminance, r.luminance < 10 ? 2 : 0)}</td>}
                  {has('onOff') && <td className="n">{ratio(r.onOff)}</td>}
                  {has('board') && <td className="n">{ratio(r.board)}</td>}
                </tr>
              ))}
            </tbody>
          </table>
          {!has('onOff') && (
            <ul className="mt-2 grid max-w-2xl gap-1 text-soft">
              {h.sentences.map((s) => (
                <li key={s}>{s}</li>
              ))}
            </ul>
          )}
        </section>
      )
    })}
  </div>
)

/** Response times of grey pairs. */
export const ResponseTable = ({ response }: { response: NonNullable<GuidePlay['response']> }) => (
  <section>
    <table className="quiet-table tight w-full max-w-xl">
      <caption className="mb-1 text-left font-semibold">Response times, 10 to 90 % of the light</caption>
      <thead>
        <tr>
          <th scope="col">Greys</th>
          <th scope="col" className="n">
            Rise, ms
          </th>
          <th scope="col" className="n">
            Fall, ms
          </th>
          <th scope="col" className="n">
            Overshoot, up / down
          </th>
        </tr>
      </thead>
      <tbody>
        {response.map((r) => (
          <tr key={`${r.from} ${r.to}`}>
            <th scope="row" className="font-normal">
              {r.from} % and {r.to} %
            </th>
            <td className="n">{number(r.rise, 1)}</td>
            <td className="n">{number(r.fall, 1)}</td>
            <td className="n">{sayOvershoot(r)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  </section>
)

/** What else a case moves, and what a source changes on its own. */
export const BesideList = ({ beside }: { beside: NonNullable<GuidePlay['beside']> }) => (
  <section>
    <p className="mb-2 font-semibold">Beside this case</p>
    <ul className="grid max-w-2xl gap-1 text-soft">
      {beside.map((s) => (
        <li key={s}>{s}</li>
      ))}
    </ul>
  </section>
)

/** All that was found of games and of the desktop. */
export const PlaySection = ({ play }: { play: GuidePlay }) => (
  <div className="grid grid-cols-[minmax(0,1fr)] gap-8">
    {play.latency && <LatencyTable latency={play.latency} />}
    {play.sourceScreens && <SourceScreensList screens={play.sourceScreens} />}
    {play.refresh && <RefreshTable refresh={play.refresh} />}
    {play.clamps && <ClampTable clamps={play.clamps} />}
    {play.uniformity && <UniformityMap uniformity={play.uniformity} />}
    {play.helpers && <HelperTables helpers={play.helpers} />}
    {play.response && <ResponseTable response={play.response} />}
    {play.beside && <BesideList beside={play.beside} />}
  </div>
)
