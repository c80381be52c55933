export { readsAfter, stepOfControl } from './after-change'
export { decideAfterStop, sayLeftOut } from './after-stop'
export type { AtStep, RouteStep, StepStatus } from './at-step'
export { type Bought, boughtBy } from './bought'
export { cautionsAt } from './cautions'
export { controlTrial } from './control-trial'
export { type Copying, copyingOf, spreadOfUnits, USUAL_SPREAD } from './copying'
export { EFFORT_DEPTHS, type Effort, type EffortDepth, effortOf } from './effort'
export { type Ending, endingOf, sayCopy } from './ending'
export { preferencesWithCost } from './preferences'
export { priorsOfRoute } from './priors-of-route'
export { planRoute, type Route } from './route'
export { type AskedChange, setTogether, walkOf } from './set-together'
export {
  type Ask,
  type Devices,
  type PlannedTask,
  readTask,
  restTask,
  setAll,
  setTask,
  sweepTasks,
  type Task,
  tasksAfterDrift,
  tasksBack,
} from './task'
export { decideUnattended, putBackOf, QUESTIONS, withAnswer } from './unattended'
export { unexpectedReading } from './unexpected-reading'
export { sayChanges, type Work, type WorkPlace, workOf } from './work'
