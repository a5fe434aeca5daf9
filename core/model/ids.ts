import { z } from 'zod';

export const idSchema = z
  .string()
  .min(1)
  .max(60)
  .regex(/^[a-z0-9][a-z0-9-]*$/, 'An id is made of small letters, digits and hyphens');
