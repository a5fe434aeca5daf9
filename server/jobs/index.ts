export { Jobs, type Job, type JobDone, type JobTools, type JobWork } from './jobs.ts';
