import fc from 'fast-check';
import { expect, it } from 'vitest';
import { showNotes } from './show-notes';
import { speechStretches, whoSpeaksVtt } from './who-speaks';

const STEP = 4800;

it('speech goes on over a pause in a sentence, and a chair is no speech', () => {
  const steps = (text: string) => [...text].map((letter) => letter === '#');
  expect(speechStretches(steps('..####...###........#.........####'), STEP)).toEqual([[2 * STEP, 12 * STEP], [30 * STEP, 34 * STEP]]);
});

it('whatever is spoken, stretches are in order, apart, and begin and end with speech', () => {
  fc.assert(
    fc.property(fc.array(fc.boolean(), { maxLength: 200 }), (speaks) => {
      const found = speechStretches(speaks, STEP);
      for (const [k, [from, to]] of found.entries()) {
        expect(speaks[from / STEP] && speaks[to / STEP - 1]).toBe(true);
        if (k > 0) expect(from - found[k - 1][1]).toBeGreaterThanOrEqual(0.8 * 48_000);
      }
    }),
  );
});

it('who speaks is a cue each, in the order of time, whatever people are called', () => {
  const text = whoSpeaksVtt([{ name: 'Maren --> Sollis', speech: [[48_000, 96_000], [480_000, 576_000]] }, { name: 'Odalys & Tomasz', speech: [[90_000, 240_000]] }]);
  expect(text).toBe(
    'WEBVTT\n\n00:00:01.000 --> 00:00:02.000\n<v Maren --&gt; Sollis>Maren --&gt; Sollis\n\n00:00:01.875 --> 00:00:05.000\n<v Odalys &amp; Tomasz>Odalys &amp; Tomasz\n\n00:00:10.000 --> 00:00:12.000\n<v Maren --&gt; Sollis>Maren --&gt; Sollis\n',
  );
});

it('show notes have their times, each sound once, and no name that Markdown reads as more', () => {
  expect(showNotes({ show: 'Ferry Weather', episode: 'The *last* ferry', people: ['Maren', 'Odalys', 'Tomasz'], markers: [{ atSample: 0, name: 'Hello' }, { atSample: 48_000 * 3725, name: 'Rust [again]' }], sounds: ['Bell', 'Theme', 'Bell'] })).toBe(
    '# The \\*last\\* ferry\n\nFerry Weather\n\nWith Maren, Odalys and Tomasz.\n\n## In this episode\n\n- 0:00 Hello\n- 1:02:05 Rust \\[again\\]\n\n## Sounds\n\n- Bell\n- Theme\n',
  );
  expect(showNotes({ show: 'S', episode: 'E', people: [], markers: [], sounds: [] })).toBe('# E\n\nS\n');
});
