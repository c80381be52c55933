import { sayWhole } from '#core/measure'
import type { FindingsView, LevelRow, LevelsView } from '#server/view'
import { styled } from '#ui/charts'
import { luminance } from '#ui/static'
import { Heading, Options } from './panel-parts'

/** Luminance for any room, and where black and white end. */
export const LevelsPanel = ({ levels }: { levels: LevelsView }) => {
  const { luminance: light, black, whiteLevel } = levels
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-8 md:grid-cols-2">
      {light && (
        <section>
          <Heading note={`“${levels.control}”`}>For any room</Heading>
          <p className="mb-2 text-sm text-soft">
            Now {light.value}: {luminance(light.luminance)} cd/m².{' '}
            {light.factory &&
              `Out of the box ${light.factory.value}: ${luminance(light.factory.luminance)} cd/m².`}
            {light.outOfReach && (
              <span className="text-lamp">
                {' '}
                The target is out of reach: the nearest is still{' '}
                {light.outOfReach === 'too-dark' ? 'too dark' : 'too bright'}.
              </span>
            )}
          </p>
          <table className="quiet-table tight">
            <thead>
              <tr>
                <th scope="col" className="n">
                  Wanted, cd/m²
                </th>
                <th scope="col" className="n">
                  Value
                </th>
                <th scope="col" className="n">
                  Gives, cd/m²
                </th>
                <th scope="col">Source</th>
              </tr>
            </thead>
            <tbody>
              {light.room.map((r) => (
                <tr key={r.target}>
                  <td className="n">{r.target}</td>
                  <td className="n font-semibold">{r.value}</td>
                  <td className="n">{sayWhole(r.expected)}</td>
                  <td className="text-sm text-faint">{r.between ? 'interpolated' : 'extrapolated'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      <section className="grid content-start gap-4">
        {black && (
          <div>
            <Heading note={black.value && `at ${black.value}`}>Black level</Heading>
            <p>
              Black gives {luminance(black.black)} cd/m². The last step that is black:{' '}
              <strong className="num">{black.lastBlack} %</strong>. The first that can be seen:{' '}
              <strong className="num">
                {black.firstSeen === null ? 'none read' : `${black.firstSeen} %`}
              </strong>
              .
            </p>
          </div>
        )}
        {whiteLevel && (
          <div>
            <Heading note={whiteLevel.value && `at ${whiteLevel.value}`}>White level</Heading>
            <p>
              {whiteLevel.apart
                ? 'Steps just below white are distinct in every channel.'
                : 'Steps just below white are clipped.'}{' '}
              <span className="text-soft">
                Slope of red, green, blue there, 1 being even:{' '}
                <span className="num">{whiteLevel.slopes.map((s) => s.toFixed(2)).join(', ')}</span>.
              </span>
            </p>
          </div>
        )}
      </section>
    </div>
  )
}

export const TonePanel = ({ tones }: { tones: NonNullable<FindingsView['tones']> }) => (
  <section>
    <Heading note="gamma over 20 to 90 % of signal">“{tones.control}”</Heading>
    <Options
      options={tones.options}
      columns={[
        { name: 'Gamma', show: ([e]) => e!.toFixed(2) },
        { name: 'Off the target', unit: 'root mean square', show: ([, off]) => off!.toFixed(3) },
      ]}
    />
  </section>
)

export const PresetPanel = ({ presets }: { presets: NonNullable<FindingsView['presets']> }) => (
  <section>
    <Heading note="Δu′v′ to the target white">“{presets.control}”</Heading>
    <Options
      options={presets.options}
      columns={[
        { name: 'Away', show: ([away]) => away!.toFixed(4) },
        { name: 'Residual after gains', show: ([, left]) => left!.toFixed(4) },
      ]}
    />
  </section>
)

/** Each level with its error and the values that stand there. */
export const ByLevelPanel = ({ rows }: { rows: readonly LevelRow[] }) => {
  const most = Math.max(1, ...rows.map((r) => r.error))
  const channels = [...new Set(rows.flatMap((r) => r.values.map((v) => v.channel)))]
  return (
    <section>
      <Heading note="chromatic ΔE00 as the model expects it, and the values that stand in the menu">
        Multi-point white balance
      </Heading>
      <table className="quiet-table tight">
        <thead>
          <tr>
            <th scope="col">Grey</th>
            <th scope="col" className="w-full">
              <span className="sr-only">Error as a bar</span>
            </th>
            <th scope="col" className="n">
              ΔE00
            </th>
            <th scope="col" className="n">
              Light off
              <span className="block">%</span>
            </th>
            {channels.map((c) => (
              <th key={c} scope="col" className="n">
                {c}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {[...rows].reverse().map((r) => (
            <tr key={r.level}>
              <th scope="row" className="whitespace-nowrap">
                {r.label}
              </th>
              <td aria-hidden="true">
                <span
                  className={`block h-2.5 ${r.error > 1 ? 'bg-ink' : 'bg-faint'}`}
                  ref={styled({ width: `${Math.max(0.5, (100 * r.error) / most)}%` })}
                />
              </td>
              <td className="n">{r.error.toFixed(2)}</td>
              <td className="n text-soft">
                {r.tone >= 0 ? '+' : '−'}
                {Math.abs(r.tone).toFixed(1)}
              </td>
              {channels.map((c) => {
                const value = r.values.find((v) => v.channel === c)
                return (
                  <td key={c} className={`n ${value?.changed ? 'font-semibold' : 'text-faint'}`}>
                    {value?.shown ?? '·'}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
