import { defineConfig } from '@playwright/test';

/** Flags for a browser without sound hardware, network or a user who presses things. */
const ARGS = [
  '--no-sandbox',
  '--autoplay-policy=no-user-gesture-required',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-first-run',
];
const MICROPHONE = ['--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'];

const launch = (...more: string[]) => ({
  launchOptions: { executablePath: '/usr/bin/chromium', args: [...ARGS, ...more] },
});

/** Tests that look at screens, and at nothing a busy machine spoils: how a call sounds, what it lost, how soon it is back. Two at a time. */
const SCREENS = /(accounts|by-keyboard|check|checks|desk|devices-hindered|guest-page|hearing|made-up-devices|many-guests|processed-voice|sounds|sounds-board)\.spec/;

// Whoever runs beside others has a product of its own: its address, its database, its radio.
const products = JSON.parse(process.env.PRODUCTS ?? '[]') as Record<string, string>[];
Object.assign(process.env, products[Number(process.env.TEST_PARALLEL_INDEX ?? 0)]);

export default defineConfig({
  testDir: 'e2e',
  // One desk, one audio thread, two cores: tests that listen would measure each other. Only screens are run two at a time.
  workers: 1,
  // A machine at half its speed is no fault; what does not come at all is.
  timeout: 300_000,
  expect: { timeout: 30_000 },
  forbidOnly: true,
  // A trace films every page of a test; with several guests on a small machine that alone breaks the call.
  // What a small machine does not draw is left to the call. What moves at full speed is measured by a benchmark.
  use: { baseURL: process.env.BASE_URL, viewport: { width: 1280, height: 800 }, contextOptions: { reducedMotion: 'reduce' }, trace: process.env.TRACE ? 'retain-on-failure' : 'off' },
  projects: [
    { name: 'screens', testMatch: SCREENS, testIgnore: /\.devices\./, use: launch() },
    { name: 'calls', testIgnore: [SCREENS, /microphone|\.devices\./], use: launch() },
    // These start a browser of their own, on a sound server of their own.
    { name: 'devices', testMatch: /\.devices\./, use: launch() },
    { name: 'microphone', testMatch: /microphone/, use: launch(...MICROPHONE) },
  ],
});
