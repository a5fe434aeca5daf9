export { Jobs, type Job, type JobDone, type JobFile, type JobTools, type JobWork } from './jobs.ts';
