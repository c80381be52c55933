import { describe, expect, it } from 'vitest'
import { xyToXyz } from '#core/colorimetry'
import { readingsInLog } from '#core/formats'

const log = (text: string) => readingsInLog(text.split('\n').map((line) => line.split(',')))

describe('a meter’s log', () => {
  it('is read by its heads, whatever stands beside the readings', () => {
    const text =
      'made by a meter\nTime,X,Y,Z,Grey\n12:00:01,95,100,109,100\n12:00:05,24,25.5,27,50\nend of file'
    expect(log(text)).toEqual([
      { line: 2, xyz: [95, 100, 109], signal: [1, 1, 1] },
      { line: 3, xyz: [24, 25.5, 27], signal: [0.5, 0.5, 0.5] },
    ])
  })

  it('is read by its content where it has no heads', () => {
    expect(log('1,95.0,100.1,109\n2,47,50,54').map((r) => r.xyz)).toEqual([
      [95, 100.1, 109],
      [47, 50, 54],
    ])
    expect(log('12:01,100,0.3127,0.329\n12:02,50,0.31,0.33')[0]!.xyz).toEqual(xyToXyz([0.3127, 0.329], 100))
  })

  it('knows codes and percent apart', () => {
    const signal = (rows: string) =>
      log(`R,G,B,Y,x,y\n${rows}`).map((r) => r.signal!.map((v) => Math.round(100 * v)))
    expect(signal('255,255,255,100,0.31,0.33\n128,0,0,9,0.6,0.3')).toEqual([
      [100, 100, 100],
      [50, 0, 0],
    ])
    expect(signal('100,100,100,100,0.31,0.33\n50,0,0,9,0.6,0.3')[1]).toEqual([50, 0, 0])
    expect(signal('1,1,1,100,0.31,0.33\n0.5,0,0,9,0.6,0.3')[1]).toEqual([50, 0, 0])
  })

  it('passes over what is no reading', () => {
    expect(log('')).toEqual([])
    expect(log('X,Y,Z\n1,2\n-1,2,3\nerror,no,light\n1,2,3').map((r) => r.xyz)).toEqual([[1, 2, 3]])
  })
})
