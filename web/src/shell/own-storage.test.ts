import { createPinia, setActivePinia } from 'pinia';
import { afterEach, describe, expect, it } from 'vitest';
import { nextTick } from 'vue';
import { useSession } from '../api/session.ts';
import { useOwnStorage } from './own-storage.ts';

afterEach(() => localStorage.clear());

describe('what a browser keeps', () => {
  it('is kept for one person, and met by nobody else who signs in', async () => {
    setActivePinia(createPinia());
    const session = useSession();
    const as = (id: string): void => void (session.person = { id, name: id, title: '', role: 'analyst' } as typeof session.person);
    as('one');
    const own = useOwnStorage<Record<string, string>>('drafts', {});
    own.value = { secret: 'mine' };
    await nextTick();
    as('two');
    expect(useOwnStorage<Record<string, string>>('drafts', {}).value).toEqual({});
    as('one');
    expect(useOwnStorage<Record<string, string>>('drafts', {}).value).toEqual({ secret: 'mine' });
  });
});
