export { Jobs, type Job, type JobFile, type JobTools, type JobWork, type JobDone } from './jobs.ts';
