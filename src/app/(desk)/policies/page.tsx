import { context } from '#server/base'
import { policiesView } from '#server/equipment'
import { PolicyDesk } from '#ui/policies'
import { copyPolicyAction, removePolicyAction, savePolicyAction } from '../policy-actions'

export const dynamic = 'force-dynamic'

export default async function PoliciesPage({
  searchParams,
}: {
  searchParams: Promise<{ policy?: string | string[] }>
}) {
  const policies = await policiesView(context())
  const asked = [(await searchParams).policy].flat()[0]
  const shown = policies.find((p) => p.policy.key === asked) ?? policies[0]!
  return (
    <>
      <title>Policies · Wexmar</title>
      <h1 className="figure text-5xl">Policies</h1>
      <p className="mt-2 max-w-2xl text-soft">
        Where practitioners disagree, a policy gives the answer, and a guide says which it follows. The
        policies that come with Wexmar cannot be changed: copy one and change the copy. A session keeps the
        policy it began with.
      </p>
      <PolicyDesk
        key={shown.policy.key}
        policies={policies}
        shown={shown}
        copy={copyPolicyAction.bind(null, shown.policy.key)}
        save={savePolicyAction.bind(null, shown.policy.key)}
        remove={removePolicyAction.bind(null, shown.policy.key)}
      />
    </>
  )
}
