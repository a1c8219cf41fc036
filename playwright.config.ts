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

export default defineConfig({
  testDir: 'e2e',
  // One desk, one audio thread, two cores: tests that share them would measure each other.
  workers: 1,
  // A machine at half its speed is no fault; what does not come at all is.
  timeout: 300_000,
  expect: { timeout: 30_000 },
  forbidOnly: true,
  // A trace films every page of a test; with several guests on a small machine that alone breaks the call.
  // What a small machine does not draw is left to the call. What moves at full speed is measured by a benchmark.
  use: { baseURL: process.env.BASE_URL, viewport: { width: 1280, height: 800 }, contextOptions: { reducedMotion: 'reduce' }, trace: process.env.TRACE ? 'retain-on-failure' : 'off' },
  projects: [
    { name: 'desk', testIgnore: /microphone|\.devices\./, use: launch() },
    // These start a browser of their own, on a sound server of their own.
    { name: 'devices', testMatch: /\.devices\./, use: launch() },
    { name: 'microphone', testMatch: /microphone/, use: launch(...MICROPHONE) },
  ],
});
