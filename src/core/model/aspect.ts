/**
 * What of a grey is looked at: `red` and `blue` are the drives of those channels against green, so that panel light cancels
 * out; `tone` is the drive of green itself.
 */
export type Aspect = 'red' | 'blue' | 'tone'
export const ASPECTS: readonly Aspect[] = ['red', 'blue', 'tone']
