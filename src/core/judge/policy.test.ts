import { describe, expect, it } from 'vitest'
import { D65 } from '#core/colorimetry'
import {
  isHdr,
  POLICY_QUESTIONS,
  Policy,
  preferencesOf,
  REFERENCE_POLICY,
  roomOf,
  SHIPPED_POLICIES,
  shippedPolicy,
  targetsFor,
  targetsOf,
  ViewingCase,
} from '#core/judge'
import { sayTone } from '#core/target'

describe('the shipped policies', () => {
  it('are three, keep to their own schema and have keys of their own', () => {
    expect(SHIPPED_POLICIES.map((p) => p.name)).toEqual([
      'Strict reference',
      'Fitted to the room',
      'High contrast',
    ])
    for (const policy of SHIPPED_POLICIES) expect(Policy.parse(policy)).toEqual(policy)
    expect(new Set(SHIPPED_POLICIES.map((p) => p.key)).size).toBe(3)
    expect(shippedPolicy('impact')?.dimming).toBe('strongest-contrast')
    expect(shippedPolicy('none-such')).toBeUndefined()
  })
  it('answer every question with one of its answers', () => {
    for (const policy of SHIPPED_POLICIES)
      for (const [key, { answers }] of Object.entries(POLICY_QUESTIONS))
        expect(Object.keys(answers)).toContain(policy[key as keyof typeof POLICY_QUESTIONS])
  })
  it('begin with the reference, which prefers nothing to itself', () => {
    expect(targetsOf(REFERENCE_POLICY, 'dark')).toEqual({ luminance: 100, white: D65, tone: 'bt1886' })
    for (const viewingCase of ViewingCase.options)
      expect(preferencesOf(REFERENCE_POLICY, viewingCase)).toEqual([])
  })
  it('name where they go another way', () => {
    const named = preferencesOf(shippedPolicy('impact')!, 'sdr-dark').map((p) => p.key)
    expect(named).toEqual(expect.arrayContaining(['tone', 'sharpness', 'dynamic-contrast', 'dimming']))
    const hdr = preferencesOf(shippedPolicy('impact')!, 'hdr-film').map((p) => p.key)
    expect(hdr).toContain('tone-mapping')
    expect(hdr).not.toContain('tone')
    const warm = { ...REFERENCE_POLICY, white: { x: 0.345, y: 0.358, name: 'D50' } }
    expect(preferencesOf(warm, 'sdr-dark')).toEqual([
      { key: 'white', phrase: 'white is aimed at D50 instead of D65' },
    ])
  })
})

describe('a policy of one’s own', () => {
  const of = (change: object) => Policy.safeParse({ ...REFERENCE_POLICY, ...change })
  it('is refused with a reason where a figure makes no sense', () => {
    expect(of({ name: '  ' }).error?.issues[0]?.message).toBe('Give the policy a name.')
    expect(of({ luminance: { dark: 0, bright: 200, game: 150 } }).success).toBe(false)
    expect(of({ tone: { dark: 3.5, bright: 2.2, game: 2.2 } }).success).toBe(false)
    expect(of({ white: { x: 0.3127, y: 0.329, name: '' } }).success).toBe(false)
    expect(of({ key: 'Über' }).success).toBe(false)
    expect(of({ green: 'sometimes' }).success).toBe(false)
  })
})

describe('rooms', () => {
  it('belong to the cases of SDR that can be derived, and HDR aims at absolute light', () => {
    expect(ViewingCase.options.flatMap((c) => roomOf(c) ?? [])).toEqual(['dark', 'bright', 'game', 'desktop'])
    for (const viewingCase of ViewingCase.options) {
      const targets = targetsFor(REFERENCE_POLICY, viewingCase)
      expect(targets.tone === 'pq-balance').toBe(isHdr(viewingCase))
    }
    // ITU-R BT.2408-7, 2.1: reference white of HDR.
    expect(targetsFor(REFERENCE_POLICY, 'hdr-film').luminance).toBe(203)
    expect(targetsFor(REFERENCE_POLICY, 'desktop')).toMatchObject({ luminance: 120, tone: 2.2 })
    expect(sayTone('bt1886')).toBe('BT.1886')
    expect(sayTone(2.2)).toBe('2.20')
  })
})
