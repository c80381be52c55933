export { FollowAlong } from './follow-along'
