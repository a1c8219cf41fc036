import { execFileSync } from 'node:child_process';
import { resolve } from 'node:path';
import { describe, expect, it } from 'vitest';

/** A server that notes its requests and is asked for these paths; gives the ids it answered with, and what it logged. */
function asked(level: string, paths: string[]): { ids: string[]; lines: Record<string, unknown>[] } {
  const program = `
    import { createServer } from 'node:http';
    import { noteRequest } from ${JSON.stringify(resolve('scripts/log.mjs'))};
    const server = createServer((request, response) => { noteRequest(request, response); response.end(request.headers['x-request-id']); }).listen(0, async () => {
      const ids = [];
      for (const path of ${JSON.stringify(paths)}) {
        const answer = await fetch('http://127.0.0.1:' + server.address().port + path, { headers: { cookie: 'brisk-lantern-sign-in=s3cret', 'x-request-id': 'forged' } });
        ids.push(answer.headers.get('x-request-id'));
        if ((await answer.text()) !== ids.at(-1)) throw new Error('another id');
      }
      console.log(JSON.stringify(ids));
      server.close();
      server.closeAllConnections();
    });`;
  const out = execFileSync('sh', ['-c', `"${process.execPath}" --input-type=module -e "$PROGRAM" 2>&1`], { encoding: 'utf8', env: { ...process.env, PROGRAM: program, LOG_LEVEL: level, PROCESS_NAME: 'server' } });
  const all = out.trim().split('\n').map((line) => JSON.parse(line) as unknown);
  return { ids: all.find(Array.isArray) as string[], lines: all.filter((one) => !Array.isArray(one)) as Record<string, unknown>[] };
}

describe('the log', () => {
  it('knows each request by an id of the product’s own, and holds nothing that lets anybody in', () => {
    const { ids, lines } = asked('info', ['/join/tOkEn0123456789?from=mail', '/reset/tOkEn0123456789', '/api/takes/7?key=tOkEn0123456789']);
    expect(ids.every((id) => /^[0-9a-f]{12}$/.test(id))).toBe(true);
    expect(lines.map(({ request, path, status, process }) => [request, path, status, process])).toEqual([
      [ids[0], '/join/…', 200, 'server'],
      [ids[1], '/reset/…', 200, 'server'],
      [ids[2], '/api/takes/7', 200, 'server'],
    ]);
    expect(JSON.stringify(lines)).not.toMatch(/tOkEn|s3cret|forged|mail/);
    expect(asked('warn', ['/']).lines).toEqual([]);
  });
});
