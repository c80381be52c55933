import type { Page } from '@playwright/test'
import type { BenchPort } from '#bench/executor'
import { type Control, type ControlSheet, type ControlValue, type State, showValue } from '#core/display'
import { type DraftRow, emptyRow, readDraft, rowsOf } from '#core/draft'
import type { Pattern } from '#core/measure'
import { flagsFor, PAGE_SIGNAL } from '#core/signal'

/** A display with a meter before it, as far as a person works with them. */
export interface Display {
  readonly sheet: ControlSheet
  readonly port: BenchPort
  readonly state: () => State
}

/** What a person has done: keys of the keyboard, presses of the remote, readings of the meter. */
export interface Effort {
  keys: number
  fields: number
  values: number
  clicks: number
  readings: number
  /** What was doubted of readings that were right. */
  doubted: string[]
}
export const noEffort = (): Effort => ({ keys: 0, fields: 0, values: 0, clicks: 0, readings: 0, doubted: [] })

/** Types text into the field that has the focus and counts its keys. */
const type = async (page: Page, text: string, effort: Effort): Promise<void> => {
  await page.keyboard.insertText(text)
  effort.keys += text.length
}
const key = async (page: Page, name: string, effort: Effort): Promise<void> => {
  await page.keyboard.press(name)
  effort.keys++
}

/** Waits until a field has the focus. */
const standsOn = (page: Page, id: string) =>
  page
    .waitForFunction((wanted) => document.activeElement?.id === wanted, id, { timeout: 5_000 })
    .catch(async () => {
      throw new Error(
        `The focus is on ${await page.evaluate(() => document.activeElement?.id)}, not on ${id}`,
      )
    })

const IN_LINE = ['menu', 'label', 'each', 'values', 'factory', 'does', 'stored'] as const
const BELOW = ['neutral', 'needs', 'caution'] as const

/**
 * Enters a control sheet with the keyboard alone, as somebody who walks its menu: only what is not there or proposed already is typed. In:
 * page with an empty sheet; sheet. Out: what it took.
 */
export const enterSheet = async (page: Page, sheet: ControlSheet, effort: Effort): Promise<void> => {
  const rows = rowsOf(sheet)
  const done: DraftRow[] = []
  await page.locator('input[id$="-menu"]').first().focus()
  for (const [i, row] of rows.entries()) {
    const begun = emptyRow(`r${i + 1}`, done.at(-1))
    // What stands there by itself, and what would be taken where nothing is typed.
    const typed: DraftRow = {
      ...begun,
      label: row.label,
      each: row.each,
      menu: row.menu,
      values: row.values,
      stored: row.stored,
    }
    const read = readDraft(sheet.maker, sheet.model, [...done, typed]).rows.at(-1)!
    const missing = (field: (typeof IN_LINE)[number] | (typeof BELOW)[number]): string => {
      const wanted = row[field]
      if (wanted === begun[field]) return ''
      return wanted === read.assumed[field] ? '' : wanted
    }
    const id = `r${i + 1}`
    const wanted = IN_LINE.map((field) => ({ field, text: missing(field) }))
    // The new row begins at its label; the page before it is gone to only where it changed.
    let at = i === 0 ? 0 : 1
    if (i > 0 && wanted[0]!.text) {
      await key(page, 'Shift+Tab', effort)
      at = 0
    }
    for (const [column, { field, text }] of wanted.entries()) {
      if (!text) continue
      for (; at < column; at++) await key(page, 'Tab', effort)
      await standsOn(page, `${id}-${field}`)
      if (column === 0 && i > 0) await page.keyboard.press('Control+A')
      await type(page, text, effort)
      effort.fields++
    }
    const below = BELOW.map((field) => ({ field, text: missing(field) })).filter(({ text }) => text)
    if (below.length) {
      await key(page, 'Alt+M', effort)
      await page.locator(`#${id}-neutral`).waitFor()
      for (; at < IN_LINE.length - 1; at++) await key(page, 'Tab', effort)
      for (const field of BELOW) {
        const text = below.find((b) => b.field === field)?.text
        await key(page, 'Tab', effort)
        await standsOn(page, `${id}-${field}`)
        if (text) {
          await type(page, text, effort)
          effort.fields++
        }
        if (field === below.at(-1)!.field) break
      }
    }
    done.push({ ...row, id: `r${i + 1}` })
    if (i < rows.length - 1) {
      await key(page, 'Enter', effort)
      await standsOn(page, `r${i + 2}-label`)
    }
  }
}

/** The control that a row of the page speaks of. */
const controlNamed = (sheet: ControlSheet, path: string, label: string): Control => {
  const found = sheet.controls.filter((c) => c.label === label && c.path.join(' › ') === path)
  if (found.length !== 1) throw new Error(`${found.length} controls are ${path} › ${label}`)
  return found[0]!
}

/** The value that the menu shows as some text. */
const valueShown = (control: Control, text: string): ControlValue => {
  if (control.kind === 'choice') return control.choices.find((c) => c.label === text)!.value
  const { min, max, step } = control.range
  for (let v = min; v <= max + 1e-9; v += step)
    if (showValue(control, Number(v.toFixed(9))) === text) return Number(v.toFixed(9))
  throw new Error(`“${control.label}” never shows ${text}`)
}

/** Sets a control of the display with its remote. */
const setByRemote = async (display: Display, control: Control, value: ControlValue, effort: Effort) => {
  const from = display.state()[control.key]!
  const clicks =
    control.kind === 'number'
      ? Math.abs(Number(value) - Number(from)) / control.range.step
      : Math.abs(
          control.choices.findIndex((c) => c.value === value) -
            control.choices.findIndex((c) => c.value === from),
        )
  effort.values++
  effort.clicks += Math.round(clicks)
  const set = await display.port.set(control.key, value)
  if (!set.ok) throw new Error(set.failure.message)
}

/** Everything that the page asks to be set, in its order: read from the page, nothing else. */
export const setAsked = async (page: Page, display: Display, effort: Effort): Promise<void> => {
  for (const row of await page.locator('[data-set]').all()) {
    const control = controlNamed(
      display.sheet,
      (await row.getAttribute('data-path'))!,
      (await row.getAttribute('data-label'))!,
    )
    await setByRemote(display, control, valueShown(control, (await row.getAttribute('data-set'))!), effort)
  }
}

/** Reads the patch of some code values, until the meter answers. Out: XYZ as a meter shows it. */
export const readCodes = async (
  display: Display,
  codes: readonly number[],
  surround: readonly number[],
  window: number,
  effort: Effort,
): Promise<readonly number[]> => {
  const pattern: Pattern = {
    layout: 'window',
    codes: codes as Pattern['codes'],
    surround: surround as Pattern['codes'],
    window,
    signal: PAGE_SIGNAL,
    flags: flagsFor(PAGE_SIGNAL),
    rests: null,
  }
  const shown = await display.port.showPattern(pattern)
  if (!shown.ok) throw new Error(shown.failure.message)
  for (;;) {
    effort.readings++
    const read = await display.port.read()
    if (read.ok && Array.isArray(read.value.xyz))
      return (read.value.xyz as number[]).map((v) => Math.max(0, v))
  }
}

/** Numbers as the window of a meter shows them. */
export const asShown = (xyz: readonly number[]): string =>
  xyz.map((v) => (v >= 1 ? v.toPrecision(5) : v.toFixed(5))).join(' ')

const bench = (page: Page) => page.locator('main > section[data-run]')

/** What stands on the page now, all of one moment: what is next where nothing runs, else what is asked; and the mark of that moment. */
export const asked = async (page: Page): Promise<{ step: string; what: string; mark: string }> => {
  await page.locator('main > section[aria-busy="false"]').waitFor()
  return bench(page).evaluate((section) => {
    const { step = '', run = '', next = '', ask = '', mark = '' } = (section as HTMLElement).dataset
    return { step, mark, what: run === 'none' ? next : run === 'asking' ? `ask ${ask}` : `run ${run}` }
  })
}

/** Waits until the page has gone on from what it showed. */
const untilGoneOn = async (page: Page, before: string): Promise<void> => {
  for (let look = 0; look < 600; look++) {
    if ((await bench(page).getAttribute('data-mark')) !== before) return
    await page.waitForTimeout(10)
  }
}
const markOf = async (page: Page) => (await bench(page).getAttribute('data-mark')) ?? ''

/** Reads what the page asks for with the meter before the display. Out: XYZ, cd/m². */
export const readAsked = async (page: Page, display: Display, effort: Effort): Promise<readonly number[]> => {
  const section = bench(page)
  const codes = JSON.parse((await section.getAttribute('data-codes'))!) as number[]
  const lies = (await section.getAttribute('data-lies')) ?? ''
  const window = Number(/window of ([\d.]+) %/.exec(lies)?.[1] ?? 10) / 100
  const of = (c: readonly number[]) => readCodes(display, c, [0, 0, 0], window, effort)
  // Single pixels in turn are half of each as far as a meter sees.
  const pixels = lies.startsWith('single pixels')
  const [light, dark] = [await of(codes), pixels ? await of([0, 0, 0]) : []]
  return pixels ? light.map((v, i) => (v + dark[i]!) / 2) : light
}

/**
 * Types a reading and stores it; what is doubted and right is kept with the same key. It is stored once the field no longer holds it: the
 * session may change for another reason (its page of patches answers) while a doubt is still on its way to the screen.
 */
export const typeReading = async (page: Page, xyz: readonly number[], effort: Effort): Promise<void> => {
  const before = await markOf(page)
  const typed = asShown(xyz)
  await page.locator('#typed').fill('')
  await type(page, typed, effort)
  await key(page, 'Enter', effort)
  const doubt = page.getByText('Nothing is stored yet.')
  const held = () =>
    page.evaluate((text) => document.querySelector<HTMLTextAreaElement>('#typed')?.value === text, typed)
  let kept = false
  for (let look = 0; look < 600 && (await held()); look++) {
    if (!kept && (await doubt.isVisible())) {
      effort.doubted.push((await page.getByRole('alert').filter({ has: doubt }).textContent()) ?? '')
      await key(page, 'Enter', effort)
      kept = true
    }
    await page.waitForTimeout(10)
  }
  await untilGoneOn(page, before)
}

/** Looks through the menu where the page asks what it shows, and changes what shows something else. */
const confirmShown = async (page: Page, display: Display, effort: Effort): Promise<void> => {
  const fields = page.locator('[id^="shown-"]')
  for (const field of await fields.all()) {
    const id = (await field.getAttribute('id'))!.slice('shown-'.length)
    const own = display.sheet.controls.find((c) => c.key === id)!
    const value = display.state()[own.key]!
    const believed =
      own.kind === 'choice' ? await field.inputValue() : await field.getAttribute('placeholder')
    if (believed === (own.kind === 'choice' ? value : showValue(own, value))) continue
    await page.locator('details:not([open])').evaluateAll((all) => {
      for (const one of all) (one as HTMLDetailsElement).open = true
    })
    if (own.kind === 'choice') await field.selectOption(String(value))
    else await field.fill(String(value))
    effort.keys += 4
  }
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur())
}

/** Does what the page asks for, or goes on as it proposes; visual checks are skipped. */
export const answerOnce = async (
  page: Page,
  display: Display,
  effort: Effort,
  now?: Awaited<ReturnType<typeof asked>>,
): Promise<void> => {
  const { what, mark: before } = now ?? (await asked(page))
  if (what === 'ask read') return typeReading(page, await readAsked(page, display, effort), effort)
  if (what.startsWith('run ')) return untilGoneOn(page, before)
  if (what === 'ask set') await setAsked(page, display, effort)
  if (what === 'confirm-values') await confirmShown(page, display, effort)
  if (what === 'ask reset') {
    await display.port.reset()
    effort.values++
  }
  const many = what === 'ask set' && (await page.locator('[data-set]').count()) > 1
  await key(page, many ? 'a' : what === 'visual-check' ? 'n' : ' ', effort)
  await untilGoneOn(page, before)
}
