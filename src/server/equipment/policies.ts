import { slugOf } from '#core/guide/compose'
import { Policy, SHIPPED_POLICIES, shippedPolicy } from '#core/judge'
import { readable } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'

/** A policy as pages show it. */
export interface PolicyView {
  readonly policy: Policy
  /** It comes with Wexmar and is copied before it is changed. */
  readonly shipped: boolean
}

const MOST_POLICIES = 100

/** All policies, those that come with Wexmar first. */
export const policiesView = async ({ db }: Context): Promise<PolicyView[]> => [
  ...SHIPPED_POLICIES.map((policy) => ({ policy, shipped: true })),
  ...readable(await db.policies.findAll({ order: ['name'] })).map((r) => ({
    policy: r.document,
    shipped: false,
  })),
]

/** The policy of a key, or undefined. */
export const findPolicy = async ({ db }: Context, key: string): Promise<Policy | undefined> => {
  const shipped = shippedPolicy(key)
  if (shipped) return shipped
  return readable(await db.policies.findAll()).find((r) => r.document.key === key)?.document
}

const says = (wish: unknown): Result<Policy> => {
  const parsed = Policy.safeParse(wish)
  if (parsed.success) return good(parsed.data)
  const issue = parsed.error.issues[0]!
  return bad(`${issue.message.replace(/\.?$/, '.')} Nothing was changed.`, issue.path.join('.'))
}

/** Copies a policy under a name of its own. Out: key of the copy, or why not. */
export const copyPolicy = async (ctx: Context, key: string): Promise<Result<string>> => {
  const from = await findPolicy(ctx, key)
  if (!from) return bad('There is no such policy. Nothing was copied.')
  const all = await policiesView(ctx)
  if (all.length >= MOST_POLICIES)
    return bad(`There are ${MOST_POLICIES} policies already. Nothing was copied.`)
  const base = `${from.name.slice(0, 48)}, own`
  let name = base
  for (let n = 2; all.some((p) => p.policy.name === name); n++) name = `${base} ${n}`
  const document: Policy = { ...from, key: keyFor(name, all), name }
  await ctx.db.policies.create({ name, document })
  return good(document.key)
}

/** A key that is free; it begins with a letter whatever the name. */
const keyFor = (name: string, all: readonly PolicyView[]): string => {
  const slug = slugOf(name)
  const base = /^[a-z]/.test(slug) ? slug.slice(0, 54) : `policy-${slug}`.slice(0, 54)
  let key = base
  for (let n = 2; all.some((p) => p.policy.key === key); n++) key = `${base}-${n}`
  return key
}

/** Changes a policy of the reviewer's own. Sessions keep the policy that they took. Out: nothing, or what is wrong with it. */
export const savePolicy = async (ctx: Context, key: string, wish: unknown): Promise<Result<null>> => {
  if (shippedPolicy(key)) return bad('This policy comes with Wexmar. Copy it first; nothing was changed.')
  const rows = readable(await ctx.db.policies.findAll())
  const row = rows.find((r) => r.document.key === key)
  if (!row) return bad('There is no such policy. Nothing was changed.')
  const parsed = says({ ...(wish as object), key, format: 'wexmar-policy/1' })
  if (!parsed.ok) return parsed
  const taken = [
    ...SHIPPED_POLICIES.map((p) => p.name),
    ...rows.filter((r) => r.id !== row.id).map((r) => r.name),
  ]
  if (taken.includes(parsed.value.name))
    return bad(`Another policy is called “${parsed.value.name}”. Nothing was changed.`, 'name')
  await ctx.db.policies.update(
    { name: parsed.value.name, document: parsed.value, updatedAt: new Date() },
    { where: { id: row.id } },
  )
  return good(null)
}

/** Throws a policy of the reviewer's own away. Sessions that follow it keep it. */
export const removePolicy = async (ctx: Context, key: string): Promise<Result<null>> => {
  if (shippedPolicy(key)) return bad('This policy comes with Wexmar and stays.')
  const row = readable(await ctx.db.policies.findAll()).find((r) => r.document.key === key)
  if (!row) return bad('There is no such policy.')
  await ctx.db.policies.destroy({ where: { id: row.id } })
  return good(null)
}
