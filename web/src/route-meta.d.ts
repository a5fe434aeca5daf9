import type { Role } from '@bold-compass/core/api';
import 'vue-router';

declare module 'vue-router' {
  interface RouteMeta {
    title?: string;
    /** Open to whoever is not signed in. */
    open?: boolean;
    /** Whom the page is for; everyone where nothing is said. */
    roles?: Role[];
  }
}
