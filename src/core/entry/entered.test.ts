import { describe, expect, it } from 'vitest'
import { LatencyEntry, RowEntry, TraceEntry } from './entered'

const latency = (times: string, rate = '60') =>
  LatencyEntry.safeParse({ rate, position: 'middle', times, settings: {} })

describe('delays that are typed or pasted', () => {
  it.each([
    ['31.2 30.8\n29.9', [31.2, 30.8, 29.9]],
    ['31,2 30,8 29,9', [31.2, 30.8, 29.9]],
    ['31.2, 30.8, 29.9', [31.2, 30.8, 29.9]],
    ['31, 30, 29', [31, 30, 29]],
    ['31,30,29', [31, 30, 29]],
    ['31.2 ms; 30 ms', [31.2, 30]],
    ['12', [12]],
  ])('are read as they are written: %j', (text, times) => {
    expect(latency(text).data?.times).toEqual(times)
  })

  it.each([
    ['', /at least one delay/],
    ['12 fast', /“fast” is not a delay/],
    ['-3', /not a delay/],
    ['9000', /between 0 and 2000/],
    [Array.from({ length: 1001 }, () => '12').join(' '), /1001 delays; at most 1000/],
  ])('are refused with a sentence: %j', (text, sentence) => {
    expect(latency(text).error?.issues[0]?.message).toMatch(sentence)
  })

  it('need a rate that a display has', () => {
    expect(latency('12', '5').error?.issues[0]?.message).toMatch(/at least 20 Hz/)
    expect(latency('12', 'fast').error?.issues[0]?.message).toMatch(/“fast” is not a rate/)
  })
})

describe('greys of a trace', () => {
  it('differ, and are percent', () => {
    expect(TraceEntry.safeParse({ from: '0', to: '100' }).data).toEqual({ from: 0, to: 100 })
    expect(TraceEntry.safeParse({ from: '20', to: '20' }).error?.issues[0]?.message).toMatch(/have to differ/)
    expect(TraceEntry.safeParse({ from: '0', to: '255' }).error?.issues[0]?.message).toMatch(/0 to 100 %/)
  })
})

describe('a row without a measurement', () => {
  it('has its place in the menu, its value, and a reason', () => {
    const row = {
      kind: 'sound-output',
      path: 'Sound › Output',
      label: 'Out',
      value: 'Passthrough',
      comesAs: '',
    }
    expect(RowEntry.safeParse({ ...row, reason: 'The receiver decodes it.' }).data?.path).toEqual([
      'Sound',
      'Output',
    ])
    expect(
      RowEntry.safeParse({ ...row, path: 'a>'.repeat(9), reason: 'x' }).error?.issues[0]?.message,
    ).toMatch(/at most 8 pages/)
    expect(RowEntry.safeParse({ ...row, reason: ' ' }).error?.issues[0]?.message).toMatch(/needs its reason/)
  })
})
