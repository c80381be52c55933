import { describe, expect, it } from 'vitest'
import type { z } from 'zod'
import {
  CaseEntry,
  EquipmentEntry,
  IntakeByHandEntry,
  numberTyped,
  ON_BENCH,
  PolicyEntry,
  policyTyped,
  settingEntry,
} from '#core/entry'
import { SHIPPED_POLICIES } from '#core/judge'

/** Path and message of each fault of an entry. */
const faults = (schema: z.ZodType, entry: unknown) =>
  schema.safeParse(entry).error?.issues.map((i) => `${i.path.join('.')}: ${i.message}`) ?? []

describe('a number that is typed', () => {
  it.each([
    ['12', 12],
    [' 12,5 ', 12.5],
    ['12.5', 12.5],
    ['−3', -3],
    ['-3', -3],
    ['', undefined],
    ['  ', undefined],
    ['1.234,5', undefined],
    ['about 3', undefined],
    ['Infinity', undefined],
  ])('%j is %j', (text, value) => {
    expect(numberTyped(text)).toBe(value)
  })
})

describe('a viewing case that is begun', () => {
  const entry = {
    viewingCase: 'sdr-dark',
    policy: 'strict-reference',
    baseMode: '',
    luminance: '',
    unattended: false,
    display: 'bench',
    pattern: 'bench',
    meter: 'bench',
    meterName: '',
  }
  it('aims as its policy says where nothing else is typed', () => {
    expect(CaseEntry.parse(entry).luminance).toBeUndefined()
    expect(CaseEntry.parse({ ...entry, luminance: '120,5' }).luminance).toBe(120.5)
  })
  it('refuses what is not a number, and says so', () => {
    expect(faults(CaseEntry, { ...entry, luminance: 'bright' })).toEqual([
      'luminance: “bright” is not a number. Write the luminance in cd/m², for example 100.',
    ])
  })
  it('needs the name of a meter that a person reads', () => {
    expect(faults(CaseEntry, { ...entry, meter: 'hand', meterName: ' ' })).toEqual([
      'meterName: Say which meter you read: maker, model and serial.',
    ])
    expect(faults(EquipmentEntry, { ...ON_BENCH, meter: 'hand' })).toHaveLength(1)
    expect(faults(EquipmentEntry, ON_BENCH)).toEqual([])
  })
})

describe('a unit that is added by hand', () => {
  const entry = {
    maker: 'Anvik',
    model: 'Pelt Q',
    sizeInch: '27,5',
    serial: 'A1',
    firmware: '1.0',
    label: 'unit 1',
    region: 'Europe',
    origin: 'bought',
    panelKind: 'lcd-edge-lit',
    hours: '',
  }
  it('has numbers where numbers were typed', () => {
    expect(IntakeByHandEntry.parse({ ...entry, hours: '12' })).toMatchObject({ sizeInch: 27.5, hours: 12 })
    expect(IntakeByHandEntry.parse(entry).hours).toBeUndefined()
  })
  it('has all its faults named at once, in the order of the form', () => {
    expect(
      faults(IntakeByHandEntry, { ...entry, maker: ' ', sizeInch: 'wide', serial: '', hours: '-1' }),
    ).toEqual([
      'maker: Who makes it?',
      'sizeInch: Give the diagonal in inches.',
      'serial: The serial number tells units apart.',
      'hours: Hours of use are not below zero.',
    ])
  })
})

describe('a setting that is entered', () => {
  const controls: Record<string, { label: string; kind: 'number' | 'choice' }> = {
    light: { label: 'Light', kind: 'number' },
    mode: { label: 'Mode', kind: 'choice' },
  }
  const schema = settingEntry(
    (key) => controls[key],
    (text, key) => `“${text}” is no value of ${key}.`,
  )
  it('is a number or a choice, as its control has it', () => {
    expect(schema.parse({ control: 'light', value: '−4' })).toEqual({ control: 'light', value: -4 })
    expect(schema.parse({ control: 'mode', value: '4' })).toEqual({ control: 'mode', value: '4' })
  })
  it('is refused at its value, with the control’s own sentence', () => {
    expect(faults(schema, { control: 'light', value: 'high' })).toEqual([
      'value: “high” is no value of light.',
    ])
    expect(faults(schema, { control: 'mode', value: '' })).toEqual(['value: “” is no value of mode.'])
    expect(faults(schema, { control: 'ghost', value: '1' })).toHaveLength(1)
  })
})

describe('a policy that is edited', () => {
  it('comes out of its form as it went in', () => {
    for (const policy of SHIPPED_POLICIES) {
      const { format: _, key: __, ...rest } = policy
      expect(PolicyEntry.parse(policyTyped(policy))).toEqual(rest)
    }
  })
  it('says at which number something is wrong', () => {
    const typed = policyTyped(SHIPPED_POLICIES[0])
    expect(
      faults(PolicyEntry, {
        ...typed,
        luminance: { ...typed.luminance, bright: '' },
        tone: { ...typed.tone, game: 'steep' },
      }),
    ).toEqual([
      'luminance.bright: A number is missing.',
      'tone.game: Write an exponent, for example 2.2, or bt1886.',
    ])
    expect(faults(PolicyEntry, { ...typed, luminance: { ...typed.luminance, dark: '9000' } })).toHaveLength(1)
  })
})
