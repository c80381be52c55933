export { readsAfter, stepOfControl } from './after-change'
export { priorsOfRoute } from './priors-of-route'
export { planRoute, type Route } from './route'
export { decideUnattended, putBackOf } from './unattended'
