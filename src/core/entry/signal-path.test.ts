import { describe, expect, it } from 'vitest'
import { InputsEntry, inputsTyped, SocketEntry, SourceEntry } from '#core/entry'
import { DisplayInputs } from '#core/signal'

const typed = {
  name: 'Tarn',
  kind: 'console',
  link: 'frl-32',
  compressed: 'no',
  formats: '3840 × 2160: 60, 120',
  bitDepths: '8, 10',
  chroma: '4:4:4 4:2:2',
  ranges: 'limited, full',
  variableRefresh: '48 to 120',
  falls: '120: 4:2:2, limited',
} as const
const faults = (entry: object) =>
  SourceEntry.safeParse({ ...typed, ...entry }).error?.issues.map(
    (i) => `${i.path.join('.')}: ${i.message}`,
  ) ?? []

describe('a source as it is typed', () => {
  it('is read with either cross, commas or spaces', () => {
    expect(SourceEntry.parse({ ...typed, formats: '3840 × 2160: 60, 120\n1920x1080: 60 Hz' })).toEqual({
      name: 'Tarn',
      kind: 'console',
      link: 'frl-32',
      ranges: ['limited', 'full'],
      formats: [
        { width: 3840, height: 2160, rates: [60, 120] },
        { width: 1920, height: 1080, rates: [60] },
      ],
      bitDepths: [8, 10],
      chroma: ['4:4:4', '4:2:2'],
      variableRefresh: { slowest: 48, fastest: 120 },
      falls: [{ fromRate: 120, chroma: '4:2:2', range: 'limited' }],
    })
  })
  it('says at the field what is wrong, and what would be right', () => {
    expect(faults({ formats: '' }).join()).toMatch(/^formats: Write one size a line/)
    expect(faults({ formats: '4K at 60' }).join()).toMatch(/“4K at 60” is not a size/)
    expect(faults({ formats: '3840 × 2160: 60, 5000' }).join()).toMatch(/is not a size/)
    expect(faults({ bitDepths: '8, 9' }).join()).toMatch(/bitDepths: Bit depths: 8, 10, 12/)
    expect(faults({ variableRefresh: '120 to 48' }).join()).toMatch(/slowest and the fastest/)
    expect(faults({ falls: 'sometimes worse' }).join()).toMatch(/does not say what changes/)
    expect(faults({ link: 'wet string' })).not.toEqual([])
    const many = Array.from({ length: 40 }, (_, i) => `${1000 + i} × 1000: 60`).join('\n')
    expect(faults({ formats: many }).join()).toMatch(/At most 30 sizes/)
  })
})

describe('a display’s sockets as they are typed', () => {
  it('come back into the form as they were kept', () => {
    const kept = DisplayInputs.parse({
      sockets: [{ key: 'one', label: 'Input 1', link: 'tmds-18' }],
      formats: [{ width: 3840, height: 2160, rates: [24, 60] }],
      bitDepths: [8, 10],
      chroma: ['4:4:4'],
      variableRefresh: { slowest: 48, fastest: 60 },
    })
    const { sockets: _, ...pictures } = kept
    expect(InputsEntry.parse(inputsTyped(kept))).toEqual(pictures)
  })
  it('name what unlocks them only where something does', () => {
    const socket = {
      label: 'Input 1',
      link: 'frl-48',
      compressed: 'yes',
      soundSystem: 'no',
      unlock: 'input-format=wide',
      before: 'tmds-18',
      fullChroma: '',
      shares: ' Input 2, ',
      note: '',
    }
    expect(SocketEntry.parse(socket)).toEqual({
      label: 'Input 1',
      link: 'frl-48',
      compressed: true,
      shares: ['Input 2'],
      unlock: { control: 'input-format', value: 'wide', before: 'tmds-18' },
    })
    expect(SocketEntry.parse({ ...socket, unlock: '' })).not.toHaveProperty('unlock')
    expect(SocketEntry.safeParse({ ...socket, label: ' ' }).success).toBe(false)
  })
})
