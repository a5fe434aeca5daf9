import { z } from 'zod';

// The content security policy forbids making code from texts, which zod would do for speed. Must come before any schema.
z.config({ jitless: true });
