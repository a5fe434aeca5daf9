export { JsonAnswer, jsonBytes } from './json-answer.ts';
export { isOutOfMemory, LANE_LIMITS, Lanes, type LaneLimits, type LaneRequest } from './lanes.ts';
export { answering, answeringBytes, Threads, tookTooLong } from './threads.ts';
