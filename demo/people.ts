import type { Role } from '@bold-compass/core/api';

/** The password of all demo people, for those who want to type it. */
export const DEMO_PASSWORD = 'compass-demo';

interface DemoPerson {
  id: string;
  name: string;
  role: Role;
  title: string;
  groups: string[];
}

/** The people the demo's sign-in page offers, in this order. All are made up. */
export const DEMO_PEOPLE: DemoPerson[] = [
  { id: 'henrike-hollin', name: 'Henrike Hollin', role: 'manager', title: 'Managing director', groups: ['head-office'] },
  { id: 'sanna-wikmark', name: 'Sanna Wikmark', role: 'manager', title: 'Regional manager, Nordic', groups: ['nordic'] },
  { id: 'gareth-penhale', name: 'Gareth Penhale', role: 'manager', title: 'Regional manager, Atlantic', groups: ['atlantic'] },
  {
    id: 'klara-obertal',
    name: 'Klara Obertal',
    role: 'manager',
    title: 'Regional manager, Alpine and Danube',
    groups: ['alpine-and-danube'],
  },
  { id: 'dario-santoro', name: 'Dario Santoro', role: 'manager', title: 'Regional manager, Mediterranean', groups: ['mediterranean'] },
  { id: 'elin-dahlmark', name: 'Elin Dahlmark', role: 'manager', title: 'Country lead, Sweden', groups: ['sweden'] },
  { id: 'mael-delorme', name: 'Mael Delorme', role: 'manager', title: 'Country lead, France', groups: ['france'] },
  { id: 'ines-calloway', name: 'Ines Calloway', role: 'analyst', title: 'Business intelligence analyst', groups: ['head-office'] },
  { id: 'tobias-renn', name: 'Tobias Renn', role: 'steward', title: 'Data steward', groups: ['head-office'] },
];

interface DemoGroup {
  id: string;
  name: string;
  /** What its members may see; everything where there is none. */
  rule?: { field: string; members: string[] };
}

export const DEMO_GROUPS: DemoGroup[] = [
  { id: 'head-office', name: 'Head office' },
  { id: 'nordic', name: 'Nordic', rule: { field: 'region', members: ['Nordic'] } },
  { id: 'atlantic', name: 'Atlantic', rule: { field: 'region', members: ['Atlantic'] } },
  { id: 'alpine-and-danube', name: 'Alpine and Danube', rule: { field: 'region', members: ['Alpine and Danube'] } },
  { id: 'mediterranean', name: 'Mediterranean', rule: { field: 'region', members: ['Mediterranean'] } },
  { id: 'sweden', name: 'Sweden', rule: { field: 'country', members: ['Sweden'] } },
  { id: 'france', name: 'France', rule: { field: 'country', members: ['France'] } },
];
