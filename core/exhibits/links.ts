import type { Exhibit, ExhibitLink } from '../model/index.ts';
import { kindOf } from './registry.ts';

/** The links that stand at an exhibit. */
export const linksOf = (exhibit: Exhibit): ExhibitLink[] => kindOf(exhibit).links?.(exhibit) ?? [];
