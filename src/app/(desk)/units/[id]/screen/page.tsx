import Link from 'next/link'
import { notFound } from 'next/navigation'
import { idOf } from '#app/params'
import { ScreenEntry } from '#core/entry'
import { lumensFor, luminanceOn, sizeOf, throwDistance } from '#core/solve'
import { context } from '#server/base'
import { screenView } from '#server/unit'
import { Trail } from '#ui/desk'

export const dynamic = 'force-dynamic'

type Params = Readonly<Record<string, string | string[] | undefined>>
const ASPECT = 16 / 9
/** Diagonals that are compared, inch. */
const DIAGONALS = [80, 92, 100, 110, 120, 135, 150]
/** Luminances of white that a dark and a dim room want, cd/m². */
const WANTED = [48, 80, 120] as const

const BEGIN = { lumens: '1500', kept: '70', gain: '1.0', shortest: '1.2', longest: '1.6' } as const
const FIELDS = [
  ['lumens', 'Light output, lm', 'As the maker states it'],
  ['kept', 'Share left in the calibrated mode, %', 'Accurate modes usually keep 40 to 80 %'],
  ['gain', 'Gain of the screen', '1.0 is matt white'],
  ['diagonal', 'Diagonal, inch', 'Of the picture, 16:9'],
  ['shortest', 'Throw ratio, shortest', 'Distance against width'],
  ['longest', 'Throw ratio, longest', ''],
] as const

/** What a projector's light comes to on a screen: expected luminance by size and gain, and where the lens stands. */
export default async function ScreenPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>
  searchParams: Promise<Params>
}) {
  const id = idOf((await params).id)
  const view = id ? await screenView(context(), id) : undefined
  if (!id || !view) notFound()
  const asked = await searchParams
  const typed = (name: string) => {
    const value = asked[name]
    return ((Array.isArray(value) ? value[0] : value) ?? '').slice(0, 40)
  }
  const begun = { ...BEGIN, diagonal: String(view.diagonal) }
  const words = Object.fromEntries(
    FIELDS.map(([name]) => [name, asked[name] === undefined ? begun[name] : typed(name)]),
  ) as Record<(typeof FIELDS)[number][0], string>
  const parsed = ScreenEntry.safeParse(words)
  const wrong = (name: string) =>
    parsed.success ? undefined : parsed.error.issues.find((i) => i.path[0] === name)?.message
  return (
    <>
      <title>{`Screen · ${view.display}`}</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: `/units/${id}`, text: `${view.display}, ${view.unit}` },
        ]}
      />
      <h1 className="figure mb-2 text-5xl">Screen</h1>
      <p className="mb-6 max-w-2xl text-soft">
        How bright a projector is on a screen of this size and gain. Calculated, not measured: light sources
        age, and a lens at its long end loses light.
      </p>
      <form method="get" className="grid gap-4 sm:grid-cols-2 md:grid-cols-3">
        {FIELDS.map(([name, label, hint]) => {
          const error = wrong(name)
          return (
            <div key={name}>
              <label htmlFor={`screen-${name}`} className="mb-1 block text-sm text-soft">
                {label}
              </label>
              <input
                id={`screen-${name}`}
                name={name}
                defaultValue={words[name]}
                inputMode="decimal"
                autoComplete="off"
                className="field"
                aria-invalid={error ? true : undefined}
                aria-describedby={`screen-${name}-more`}
              />
              <p
                id={`screen-${name}-more`}
                className={`mt-1 text-sm ${error ? 'text-lamp' : 'text-faint'}`}
                role={error ? 'alert' : undefined}
              >
                {error ?? hint}
              </p>
            </div>
          )
        })}
        <p className="self-end pb-6">
          <button type="submit" className="button">
            Calculate
          </button>
        </p>
      </form>
      {parsed.success ? (
        <Calculated entry={parsed.data} measured={view.measured} />
      ) : (
        <p className="mt-6 text-lamp">Nothing was calculated: change what is marked.</p>
      )}
      <p className="mt-10 max-w-2xl text-soft">
        Never look into the lens or the beam, mount it as its maker says, and leave its cable and its ceiling
        mount to a licensed professional where the local code asks for one.
      </p>
      {view.measured === null && (
        <p className="mt-3 max-w-2xl text-soft">
          Without a meter, a session of this unit still makes a guide by eye, under{' '}
          <Link className="link" href={`/units/${id}`}>
            its sessions
          </Link>
          : it is labelled as set by eye wherever it appears.
        </p>
      )}
    </>
  )
}

const Calculated = ({ entry, measured }: { entry: ScreenEntry; measured: number | null }) => {
  const { lumens, kept, gain, diagonal, shortest, longest } = entry
  const screen = { diagonal, aspect: ASPECT, gain }
  const light = (lumens * kept) / 100
  const expected = luminanceOn(light, screen)
  const { width, height } = sizeOf(screen)
  const all = [...new Set([...DIAGONALS, diagonal])].sort((a, b) => a - b)
  return (
    <>
      <p className="mt-6 text-soft">Expected white luminance at {diagonal} inches</p>
      <p className="figure text-6xl">
        {expected.toFixed(0)} <span className="text-3xl font-normal">cd/m²</span>
      </p>
      <p className="mt-2 max-w-2xl text-soft">
        {width.toFixed(2)} × {height.toFixed(2)} m, {light.toFixed(0)} lm on it, gain {gain}.{' '}
        {measured === null
          ? 'White was not measured on this unit yet.'
          : `Measured on this unit, in the settings that were verified last: ${measured.toFixed(0)} cd/m², ${Math.round((100 * measured) / expected)} % of it.`}
      </p>
      <ul className="mt-3 max-w-2xl text-soft">
        {WANTED.map((wanted) => (
          <li key={wanted}>
            {wanted} cd/m² needs {lumensFor(wanted, screen).toFixed(0)} lm on this screen:{' '}
            {lumensFor(wanted, screen) <= light ? 'there is enough' : 'more than there is'}.
          </li>
        ))}
      </ul>
      <table className="quiet-table mt-6 w-full max-w-2xl">
        <caption className="mb-1 text-left font-semibold">By size of the picture</caption>
        <thead>
          <tr>
            <th scope="col">Diagonal</th>
            <th scope="col" className="n">
              White, cd/m²
            </th>
            <th scope="col" className="n">
              Width, m
            </th>
            <th scope="col" className="n">
              Lens to screen, m
            </th>
          </tr>
        </thead>
        <tbody>
          {all.map((d) => {
            const own = { diagonal: d, aspect: ASPECT, gain }
            return (
              <tr key={d}>
                <th scope="row" className={d === diagonal ? 'font-bold' : 'font-normal'}>
                  {d} inch
                </th>
                <td className={`n ${d === diagonal ? 'font-bold' : ''}`}>
                  {luminanceOn(light, own).toFixed(0)}
                </td>
                <td className="n">{sizeOf(own).width.toFixed(2)}</td>
                <td className="n">
                  {throwDistance(shortest, own).toFixed(2)} to {throwDistance(longest, own).toFixed(2)}
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </>
  )
}
