export { InputsForm, SocketForm, SourceForm } from './forms'
export { PlannerQuestions, PlannerReckoning, PlannerTable, RangeMatrix } from './planner'
