import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { laneLayout, ROOMY_ROW } from './lane-layout';

/** What is left for the lanes of a window: header, edges and the right column taken off. */
const room = (width: number, height: number) => ({ width: width - 36 - (width >= 1280 ? 312 : 264), height: height - 66 - 24 });

describe('the layout of the lanes', () => {
  it.each([[1024, 768], [1280, 800], [1920, 1080]])('has room for one caller and for sixteen at %i × %i', (width, height) => {
    for (let callers = 1; callers <= 16; callers++) {
      const here = room(width, height);
      const layout = laneLayout({ ...here, lanes: callers + 3, listeners: callers + 2 });
      if (!layout.dense) continue;
      expect(layout.name + layout.trace + layout.level + layout.hands + layout.pitch * (callers + 2) + 62, `${callers} callers`).toBeLessThanOrEqual(here.width);
      expect(layout.row * (callers + 3) + 66).toBeLessThanOrEqual(here.height);
    }
  });

  it('uses a small window whole where few are in the call', () => {
    const { dense, row, trace } = laneLayout({ ...room(1024, 768), lanes: 7, listeners: 6 });
    expect(dense).toBe(true);
    expect(row).toBeGreaterThanOrEqual(ROOMY_ROW);
    expect(trace).toBeGreaterThanOrEqual(60);
  });

  it('shows three callers as cards at 1280 × 800, and never a row that cannot be pressed', () => {
    expect(laneLayout({ ...room(1280, 800), lanes: 6, listeners: 5 }).dense).toBe(false);
    fc.assert(
      fc.property(fc.integer({ min: 600, max: 3000 }), fc.integer({ min: 300, max: 2000 }), fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 40 }), (width, height, lanes, listeners) => {
        const { row, pitch } = laneLayout({ width, height, lanes, listeners });
        expect(row).toBeGreaterThanOrEqual(30);
        expect(pitch).toBeGreaterThanOrEqual(16);
      }),
    );
  });
});
