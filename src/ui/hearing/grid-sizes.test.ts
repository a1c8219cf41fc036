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

  it('keep the levels in sight while there is room for them', () => {
    expect(gridSizes(8, 6, { width: 930, height: 662 })).toMatchObject({ bare: false, height: 72 });
    expect(gridSizes(11, 9, { width: 930, height: 662 })).toMatchObject({ bare: false, height: 50 });
  });
});
