import { describe, expect, it } from 'vitest'
import { ControlSheet, greyedOut, isForInterlaced } from '#core/display'
import {
  type DraftRow,
  emptyRow,
  proposeDoes,
  readDoes,
  readDraft,
  readStored,
  readValues,
  rowsOf,
  rowsPasted,
} from '#core/draft'
import { LANTERN, MAREN, PELT, SORREL, TAVIN } from '#core/simulation'

const row = (typed: Partial<DraftRow>): DraftRow => ({
  ...emptyRow('r1'),
  menu: 'Picture',
  stored: 'mode',
  ...typed,
})
/** Rows with ids of their own. */
const rows = (...typed: ReadonlyArray<Partial<DraftRow>>): DraftRow[] =>
  typed.map((t, i) => ({ ...row(t), id: `r${i + 1}` }))
const draft = (...typed: ReadonlyArray<Partial<DraftRow>>) => readDraft('Nowhere', 'Plain', rows(...typed))
/** “field: why” of every fault. */
const faults = (...typed: ReadonlyArray<Partial<DraftRow>>) =>
  draft(...typed).rows.flatMap((r) => r.faults.map((f) => `${f.field}: ${f.why}`))
const GAIN = { label: 'Gain', each: 'red, green, blue', values: '-50 to 50' }

describe('values', () => {
  const value = (text: string) => {
    const read = readValues(text)
    return read.ok
      ? read.value.kind === 'number'
        ? read.value.range
        : read.value.choices.map((c) => c.value)
      : read.why
  }

  it('are a range in any of the ways in which people write one', () => {
    for (const text of ['0 to 100', '0..100', '0 … 100', '0–100', '0-100', ' 0  until 100 '])
      expect(value(text)).toEqual({ min: 0, max: 100, step: 1 })
    for (const text of ['-50 to 50', '−50…+50', '-50 - 50', '−50 – 50'])
      expect(value(text)).toEqual({ min: -50, max: 50, step: 1 })
    expect(value('0 to 1 step 0,05')).toEqual({ min: 0, max: 1, step: 0.05 })
    expect(value('50 to 100 by 5')).toEqual({ min: 50, max: 100, step: 5 })
  })

  it('are choices with keys that differ', () => {
    expect(value('Off, Low, High')).toEqual(['off', 'low', 'high'])
    expect(value('1.8 / 2.0 / 2.2')).toEqual(['value-1-8', 'value-2-0', 'value-2-2'])
    expect(value('Off/On')).toEqual(['off', 'on'])
    expect(value('Mild | Mild! | Ünder')).toEqual(['mild', 'mild-2', 'u-nder'])
  })

  it('that make no sense are refused with a sentence', () => {
    expect(value('')).toMatch(/^Say what it can be set to/)
    expect(value('100 to 0')).toMatch(/lowest to its highest/)
    expect(value('0 to 100 step 7')).toMatch(/do not lead/)
    expect(value('50')).toMatch(/is one value/)
    expect(value('Low, low')).toMatch(/stands twice/)
    expect(value(Array.from({ length: 41 }, (_, i) => `c${i}`).join(','))).toMatch(/at most 40/)
  })
})

describe('what a control does', () => {
  it('is read from its term, from a beginning of it, and with channel and level', () => {
    expect(readDoes('white balance gain, red')).toEqual({ ok: true, value: { role: 'gain', channel: 'red' } })
    expect(readDoes('mot')).toEqual({ ok: true, value: { role: 'motion' } })
    expect(readDoes('Multi-point white balance, blue, 2.5 %')).toEqual({
      ok: true,
      value: { role: 'level-white', channel: 'blue', level: 0.025 },
    })
    expect(readDoes('hue, cyan')).toEqual({ ok: true, value: { role: 'hue', colour: 'cyan' } })
    expect(readDoes('white balance')).toMatchObject({ ok: false })
    expect(readDoes('Gain, purple')).toMatchObject({ ok: false })
  })

  it('is proposed from label, page and neighbours', () => {
    const does = (typed: Partial<DraftRow>, before: readonly DraftRow[] = []) =>
      proposeDoes(row(typed), before).does
    expect(does({ label: 'Gamma' })).toBe('Gamma')
    expect(does({ label: 'R Gain' })).toBe('White balance gain, red')
    expect(does({ label: 'Blue offset' })).toBe('White balance cut, blue')
    expect(does({ menu: 'Picture › Six colours › Cyan', label: 'Tint' })).toBe('Hue, cyan')
    expect(does({ menu: 'Picture › 20 points › 35 %', label: 'Green' })).toBe(
      'Multi-point white balance, green, 35 %',
    )
    expect(does({ label: 'Green' }, [row({ label: 'Red', does: 'White balance cut, red' })])).toBe(
      'White balance cut, green',
    )
    expect(does({ each: '20 levels × red, green, blue' })).toBe('Multi-point white balance')
    expect(does({ each: '10 levels' })).toBe('Multi-point gamma')
    expect(does({ each: '6 colours × hue, saturation, luminance' })).toBe('Colour management')
    expect(does({ label: 'Wombat' })).toBeUndefined()
  })

  it('is asked where the label means different things on different displays', () => {
    const { trap } = proposeDoes(row({ label: 'Brightness', values: '0 to 100' }), [])
    expect(trap!.question).toMatch(/luminance on some displays and black level on others/)
    expect(trap!.pattern).toBe('near-black')
    expect(trap!.answers.map((a) => readDoes(a.does))).toMatchObject([
      { value: { role: 'black-level' } },
      { value: { role: 'peak-luminance' } },
    ])
    expect(faults({ label: 'Brightness', values: '0 to 100', factory: '50' })).toEqual([
      `does: ${trap!.question}`,
    ])
    expect(
      faults({ label: 'Brightness', values: '0 to 100', factory: '50', does: 'Black level (brightness)' }),
    ).toEqual([])
    // “Dynamic contrast” says what it is; plain “Contrast” does not.
    expect(proposeDoes(row({ label: 'Dynamic contrast' }), []).trap).toBeUndefined()
    expect(proposeDoes(row({ label: 'Contrast', values: '0 to 100' }), []).trap).toBeDefined()
  })
})

describe('a group', () => {
  it('of twenty levels and three channels is sixty controls in menu order', () => {
    const { sheet, controls } = draft({
      menu: 'Picture › White balance › 20 points',
      each: '20 levels × red, green, blue',
      values: '-50 to 50',
    })
    expect(controls).toBe(60)
    expect(sheet!.controls[0]).toMatchObject({
      path: ['Picture', 'White balance', '20 points', '5 %'],
      label: 'Red',
      role: 'level-white',
      channel: 'red',
      level: 0.05,
      default: 0,
      neutral: 0,
    })
    expect(sheet!.controls[59]).toMatchObject({
      path: expect.arrayContaining(['100 %']),
      label: 'Blue',
      level: 1,
    })
    expect(new Set(sheet!.controls.map((c) => c.key)).size).toBe(60)
  })

  it('has the levels that a count can only mean, and asks where it can mean several', () => {
    const levels = (each: string) =>
      draft({ each, values: '-5 to 5' }).sheet?.controls.map((c) => 100 * c.level!)
    expect(levels('10 levels')).toEqual([10, 20, 30, 40, 50, 60, 70, 80, 90, 100])
    expect(levels('11 points')!.slice(0, 2)).toEqual([0, 10])
    expect(levels('levels 2.5, 5 to 20 step 5')).toEqual([2.5, 5, 10, 15, 20])
    expect(faults({ each: '22 levels', values: '-5 to 5' })[0]).toMatch(/Say which 22 levels/)
  })

  it('takes its names from the menu where they are written', () => {
    const { sheet } = draft({
      menu: 'Picture › Colours › {Colour}',
      each: 'red, cyan × hue=Turn, saturation=Amount',
      values: '-30 to 30',
    })
    expect(sheet!.controls.map((c) => [...c.path.slice(2), c.label, c.role, c.colour])).toEqual([
      ['Red', 'Turn', 'hue', 'red'],
      ['Red', 'Amount', 'saturation', 'red'],
      ['Cyan', 'Turn', 'hue', 'cyan'],
      ['Cyan', 'Amount', 'saturation', 'cyan'],
    ])
    expect(draft({ ...GAIN, label: '{Channel} high' }).sheet!.controls.map((c) => c.label)).toEqual([
      'Red high',
      'Green high',
      'Blue high',
    ])
  })

  it('that does not fit what the control does is refused', () => {
    expect(
      faults({ label: 'Gamma', each: '20 levels', does: 'Gamma', values: '1, 2', factory: '1' }),
    ).toEqual(['each: What it does is not for one level each.'])
    expect(faults({ label: 'Gain', does: 'White balance gain', values: '-5 to 5' })).toEqual([
      'does: Say for which channel (red, green or blue), after a comma.',
    ])
    expect(faults({ ...GAIN, each: 'red, red' })[0]).toMatch(/stands twice/)
  })
})

describe('a draft', () => {
  it('says every fault of every row at once, at its field', () => {
    expect(
      faults(
        { menu: '', label: 'Gamma', values: '2.2, 2.4', factory: '2.0' },
        { label: 'Sensor', values: 'Low, High', factory: 'Low', stored: 'somewhere' },
        { label: 'Wombat', values: '0 to 5', factory: '2', does: 'Sharpness', needs: 'Zebra = 3' },
      ),
    ).toEqual([
      'menu: Say on which page of the menu it stands.',
      'factory: “2.0” is none of its values: 2.2, 2.4.',
      'stored: “somewhere” is none of mode, signal, input, white preset, display.',
      'neutral: It changes the picture automatically. Say at which value it is off.',
      'needs: No row is labelled “Zebra”.',
    ])
  })

  it('takes a label that is not finished for one that is being written', () => {
    const rows = [
      { menu: 'Picture', label: 'Colour space', values: 'Auto, Native', factory: 'Auto' },
      {
        label: 'Wombat',
        values: '0 to 5',
        factory: '2',
        does: 'Sharpness',
        neutral: '0',
        needs: 'Colour s = Native',
      },
    ]
    expect(faults(...rows).filter((f) => f.startsWith('needs'))).toEqual([
      'needs: Finish the label: “Colour space”?',
    ])
  })

  it('reads what greys a control out from labels, also of rows below', () => {
    const { sheet } = draft(
      { label: 'Gamma', values: '2.2, 2.4', factory: '2.2', needs: 'Low latency = Off; signal = SDR' },
      { label: 'Low latency', values: 'Off, On', factory: 'Off' },
    )
    expect(sheet!.controls[0]!.needs).toEqual([{ control: 'low-latency', is: ['off'] }, { signal: ['sdr'] }])
  })

  it('reads of a control that only interlaced signals have it', () => {
    const { sheet } = draft({
      label: 'Film cadence',
      values: 'Off, On',
      factory: 'On',
      needs: 'scan = interlaced',
    })
    expect(sheet!.controls[0]!.needs).toEqual([{ scan: ['interlaced'] }])
    expect(isForInterlaced(sheet!.controls[0]!)).toBe(true)
    expect(greyedOut(sheet!, sheet!.controls[0]!, { 'film-cadence': 'on' }, 'sdr')).toMatch(
      /interlaced signals/,
    )
  })

  it('takes defaults by mode from the labels of the picture modes', () => {
    const { sheet } = draft(
      { label: 'Picture mode', values: 'Film, Game', factory: 'Film', stored: 'signal, input' },
      { label: 'Sharpness', values: '0 to 20', factory: '0; Game: 10' },
      { label: 'Panel light', values: '0 to 100', factory: '40; Game: 60, HDR: 100' },
    )
    expect(sheet!.controls[1]).toMatchObject({ default: 0, inMode: { game: 10 }, neutral: 0 })
    expect(sheet!.controls[2]).toMatchObject({ default: 40, inMode: { game: 60 }, inHdr: 100 })
    const again = readDraft(sheet!.maker, sheet!.model, rowsOf(sheet!))
    expect(again.sheet!.controls[2]).toEqual(sheet!.controls[2])
  })

  it('has a default for what lies in the middle, and asks for every other', () => {
    expect(faults({ ...GAIN })).toEqual([])
    expect(faults({ label: 'Sharpness', values: '0 to 20' })).toEqual([
      'factory: Write down the value that it has after a reset.',
    ])
  })

  it('does not have one thing twice', () => {
    expect(faults(GAIN, { ...GAIN, label: 'Drive' })).toEqual([
      'does: “Picture › Gain red” does the same already.',
    ])
    const sharp = { label: 'Sharpness', values: '0 to 5', factory: '0' }
    expect(faults(sharp, sharp)).toEqual(['label: “Picture › Sharpness” stands twice.'])
  })

  it('leaves out rows that nothing was typed into, and notes what displays usually have', () => {
    const { rows: read, sheet, notes } = draft({ label: 'Sharpness', values: '0 to 5', factory: '0' }, {})
    expect(sheet!.controls).toHaveLength(1)
    expect(read[1]!.faults).toEqual([])
    expect(notes.join(' ')).toMatch(/picture mode.*luminance.*white balance.*sensor/s)
  })

  it('stays within what a sheet may hold', () => {
    const said = faults(
      { each: 'levels 1 to 100 step 1 × red, green, blue', values: '-5 to 5' },
      {
        menu: 'Other',
        each: 'levels 0 to 99 step 1 × red, green, blue',
        values: '-5 to 5',
        does: 'White balance gain',
      },
    )
    expect(said.join()).toMatch(/at most 400 controls; these are 600/)
  })

  it('stores a place in any of the ways in which it is written', () => {
    for (const text of ['mode, signal', 'ms', 'Mode and signal', 'picture mode + signal'])
      expect(readStored(text)).toEqual({ ok: true, value: ['mode', 'signal'] })
    expect(readStored('display')).toEqual({ ok: true, value: [] })
    expect(readStored('')).toMatchObject({ ok: false })
  })
})

describe('a sheet as rows', () => {
  it('reads back as the same sheet, keys included, in a fraction of the rows', () => {
    for (const { sheet } of [MAREN, TAVIN, PELT, SORREL, LANTERN]) {
      const made = rowsOf(sheet)
      const back = readDraft(sheet.maker, sheet.model, made)
      expect(back.faults).toBe(0)
      expect(ControlSheet.parse(back.sheet)).toEqual(sheet)
    }
    expect(rowsOf(MAREN.sheet).length).toBeLessThan(MAREN.sheet.controls.length / 4)
  })

  it('keeps the key of each control while its group is changed', () => {
    const made = rowsOf(MAREN.sheet)
    const group = made.find((r) => r.each === '20 levels × red, green, blue')!
    const fewer = made.map((r) => (r === group ? { ...r, each: '10 levels × blue, green, red' } : r))
    const { sheet } = readDraft('Ostrel', 'Maren', fewer)
    const levels = sheet!.controls.filter((c) => c.role === 'level-white')
    expect(levels).toHaveLength(30)
    expect(levels[0]!.key).toBe('step-10-blue')
    // A label that is mended belongs to the same control as before.
    const renamed = made.map((r) => (r.label === 'Crest' ? { ...r, label: 'Crest of white' } : r))
    expect(readDraft('Ostrel', 'Maren', renamed).sheet!.controls[3]).toMatchObject({
      key: 'white-level',
      label: 'Crest of white',
    })
  })
})

describe('rows from a spreadsheet', () => {
  it('go by the heads of their columns where there are any', () => {
    const made = rowsPasted(
      [
        ['Label', 'Range', 'Default', 'Page'],
        ['Gamma', '2.2, 2.4', '2.2', 'Picture'],
        ['', '', '', ''],
        ['Hue', '-5 to 5', '0', ''],
      ],
      [],
      'menu',
    )
    expect(made.map((r) => [r.menu, r.label, r.values, r.factory])).toEqual([
      ['Picture', 'Gamma', '2.2, 2.4', '2.2'],
      ['Picture', 'Hue', '-5 to 5', '0'],
    ])
  })

  it('fill the columns from where they are pasted, and have ids of their own', () => {
    const there = rows({ label: 'Gamma' })
    const made = rowsPasted([['Tint', '', '-5 to 5']], there, 'label')
    expect(made).toMatchObject([{ menu: 'Picture', label: 'Tint', each: '', values: '-5 to 5', id: 'r2' }])
  })
})
