import { createSystem, defaultConfig, defineConfig } from '@chakra-ui/react';

/** Night comes first; the daylight theme darkens every light so that contrast stays above 4.5:1. */
const colour = (night: string, day: string) => ({ value: { base: day, _dark: night } });

const config = defineConfig({
  globalCss: {
    'html, body': {
      bg: 'ground',
      color: 'text',
      fontFamily: 'body',
      fontVariantNumeric: 'tabular-nums',
      minHeight: '100%',
      // Inherited. Not every browser takes them dark from the colour scheme: beside a dark panel a white bar is the brightest thing.
      scrollbarColor: 'var(--chakra-colors-hairline) transparent',
    },
    ':focus-visible': { outline: '2px solid', outlineColor: 'lampCore', outlineOffset: '2px' },
    '*, *::before, *::after': {
      scrollbarWidth: 'thin',
      '@media (prefers-reduced-motion: reduce)': {
        animationDuration: '0.01ms !important',
        // A duration, however short, would make each change of each element a transition: two layers made and undone a time.
        transitionProperty: 'none !important',
      },
    },
  },
  theme: {
    tokens: {
      fonts: {
        heading: { value: "'Bricolage Grotesque Variable', system-ui, sans-serif" },
        body: { value: "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif" },
      },
      radii: { lane: { value: '14px' }, control: { value: '9px' } },
    },
    semanticTokens: {
      colors: {
        ground: colour('#0e1420', '#eef1f5'),
        surface: colour('#151d2c', '#fbfcfe'),
        raised: colour('#1d2739', '#e3e8f0'),
        hairline: colour('#2a364c', '#c3ccda'),
        text: colour('#eef1f6', '#131a28'),
        soft: colour('#a9b5c9', '#3e4a60'),
        faint: colour('#8593ac', '#55627a'),
        lamp: colour('#ffb54a', '#7d4a00'),
        lampCore: colour('#ffe2ad', '#5f3800'),
        lampGround: colour('#3a2a10', '#ffe9c7'),
        tide: colour('#63cfc6', '#0b635c'),
        tideGround: colour('#123433', '#d2f1ee'),
        ember: colour('#ff6258', '#b3241b'),
        emberGround: colour('#34171a', '#fde3e0'),
        well: colour('#8fd694', '#216b29'),
        onLight: colour('#1a1206', '#ffffff'),
      },
    },
  },
});

export const system = createSystem(defaultConfig, config);
