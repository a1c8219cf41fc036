import { describe, expect, it } from 'vitest';
import { gridSizes } from './grid-sizes';

describe('the sizes of the grid', () => {
  // What a window of 1280 × 800 and of 1024 × 768 leaves for the grid.
  it.each([[24, 930, 662], [18, 674, 630]])('show %i by as many without scrolling, each large enough to be pressed', (count, width, height) => {
    const sizes = gridSizes(count, count, { width, height });
    expect(sizes.bare).toBe(true);
    expect(sizes.side + count * sizes.width).toBeLessThanOrEqual(width);
    expect(sizes.head + count * sizes.height).toBeLessThanOrEqual(height);
    expect(Math.min(sizes.width, sizes.height)).toBeGreaterThanOrEqual(24);
  });

  it('keep the levels in sight while there is room for them, and all of it in sight with them', () => {
    for (const [sources, listeners, width, height] of [[8, 6, 930, 662], [11, 9, 930, 662], [8, 6, 674, 630], [9, 4, 674, 632], [9, 7, 674, 630], [8, 6, 1580, 940]]) {
      const sizes = gridSizes(sources, listeners, { width, height });
      expect(sizes.bare).toBe(false);
      // Two borders of a pixel stand around it.
      expect(sizes.side + listeners * sizes.width).toBeLessThanOrEqual(width - 2);
      expect(sizes.head + sources * sizes.height).toBeLessThanOrEqual(height - 2);
    }
    expect(gridSizes(8, 6, { width: 930, height: 662 })).toEqual(gridSizes(8, 6, { width: 0, height: 0 }));
    // Enlarged twofold a window is low: the few there are stay readable and are scrolled.
    expect(gridSizes(8, 6, { width: 600, height: 250 })).toMatchObject({ bare: false, height: 50 });
  });
});
