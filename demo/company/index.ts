export { models, UNSOLD, type Model } from './products.ts';
export { FIRST_DAY, showrooms, TODAY, type Showroom } from './territory.ts';
export { customers, employees, type Customer, type Employee } from './people.ts';
export { orderLines, type OrderLine } from './orders.ts';
export { SoldSoFar, type Target } from './targets.ts';
export { repairs, schoolVisits, type Repair, type SchoolVisit } from './services.ts';
