import { describe, expect, it } from 'vitest'
import { D65 } from '#core/colorimetry'
import {
  DERIVED_CASES,
  POLICY_QUESTIONS,
  Policy,
  preferencesOf,
  REFERENCE_POLICY,
  roomOf,
  SHIPPED_POLICIES,
  shippedPolicy,
  targetsOf,
} from '#core/judge'
import { sayTone } from '#core/target'

describe('the shipped policies', () => {
  it('are three, keep to their own schema and have keys of their own', () => {
    expect(SHIPPED_POLICIES.map((p) => p.name)).toEqual(['Strict reference', 'Fitted to the room', 'Impact'])
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
    for (const room of ['dark', 'bright', 'game'] as const)
      expect(preferencesOf(REFERENCE_POLICY, room)).toEqual([])
  })
  it('name where they go another way', () => {
    const named = preferencesOf(shippedPolicy('impact')!, 'dark').map((p) => p.key)
    expect(named).toEqual(expect.arrayContaining(['tone', 'sharpness', 'dynamic-contrast', 'dimming']))
    const warm = { ...REFERENCE_POLICY, white: { x: 0.345, y: 0.358, name: 'D50' } }
    expect(preferencesOf(warm, 'dark')).toEqual([
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
  it('belong to the cases that can be derived', () => {
    expect(DERIVED_CASES.map(roomOf)).toEqual(['dark', 'bright', 'game'])
    expect(roomOf('hdr-film')).toBeUndefined()
    expect(sayTone('bt1886')).toBe('BT.1886')
    expect(sayTone(2.2)).toBe('2.20')
  })
})
