const BROWSERS: readonly [RegExp, string][] = [[/Edg\//, 'Edge'], [/OPR\//, 'Opera'], [/Firefox\//, 'Firefox'], [/Chrom(e|ium)\//, 'Chromium or Chrome'], [/Safari\//, 'Safari']];
const SYSTEMS: readonly [RegExp, string][] = [[/Android/, 'Android'], [/iPhone|iPad/, 'iOS'], [/Windows/, 'Windows'], [/Mac OS X/, 'macOS'], [/Linux/, 'Linux']];

const firstOf = (list: readonly [RegExp, string][], text: string): string | undefined => list.find(([pattern]) => pattern.test(text))?.[1];

/** `Firefox on Linux`, of what a browser calls itself. */
export function browserInWords(agent: string): string {
  const [browser, system] = [firstOf(BROWSERS, agent), firstOf(SYSTEMS, agent)];
  if (!browser) return agent === '' ? 'a browser' : agent.slice(0, 60);
  return system ? `${browser} on ${system}` : browser;
}
