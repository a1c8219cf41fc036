import type { Page } from '@playwright/test';

/** A page that says by which way its calls really went. @param policy `relay`: they go through a relay or not at all */
export async function keepConnections(page: Page, policy: RTCIceTransportPolicy = 'all'): Promise<void> {
  await page.addInitScript((iceTransportPolicy) => {
    const Connection = window.RTCPeerConnection;
    const made: RTCPeerConnection[] = [];
    (window as unknown as { made: RTCPeerConnection[] }).made = made;
    window.RTCPeerConnection = class extends Connection {
      constructor(configuration?: RTCConfiguration) {
        super({ ...configuration, iceTransportPolicy });
        made.push(this);
      }
    };
  }, policy);
}

/** The kinds of both ends of the way a call of this page takes. */
export const wayOf = (page: Page): Promise<string[]> =>
  page.evaluate(async () => {
    const { made } = window as unknown as { made: RTCPeerConnection[] };
    const live = made.filter(({ connectionState }) => connectionState === 'connected');
    const kinds: string[] = [];
    for (const connection of live) {
      const stats = new Map<string, Record<string, unknown>>();
      (await connection.getStats()).forEach((one: { id: string }) => stats.set(one.id, one as never));
      const pair = [...stats.values()].find((one) => one.type === 'candidate-pair' && one.nominated === true && one.state === 'succeeded');
      if (pair) kinds.push(String(stats.get(String(pair.localCandidateId))?.candidateType), String(stats.get(String(pair.remoteCandidateId))?.candidateType));
    }
    return kinds;
  });
