import { describe, expect, it } from 'vitest';
import { DEFAULT_HABITS } from '@/core/session/habits';
import { loadDesk } from '../episodes/load-desk';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { storeHabits, storeOwnHabits } from './habits';

const db = testDatabase();

describe('how the desks of a show behave', () => {
  const desk = async () => {
    const pool = db.pool();
    const { showHabits, ownHabits, episode } = await loadDesk(pool, await demoEpisode(pool), { account: await demoAccount(pool), role: 'owner' });
    return { showHabits, ownHabits, show: episode.showId };
  };

  it('is as usual until it is set, holds for every episode, and leaves alone what one does otherwise', async () => {
    const { showHabits, ownHabits, show } = await desk();
    expect([showHabits, ownHabits]).toEqual([DEFAULT_HABITS, {}]);
    await storeOwnHabits(db.pool(), await demoEpisode(db.pool()), { recordMixes: true });
    await storeHabits(db.pool(), show, { ...DEFAULT_HABITS, listenSeconds: 60 });
    expect(await desk()).toMatchObject({ showHabits: { ...DEFAULT_HABITS, listenSeconds: 60 }, ownHabits: { recordMixes: true } });
  });
});
