export { FaultPage, type PageFault } from './fault-page'
