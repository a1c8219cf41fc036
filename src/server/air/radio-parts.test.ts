import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { OggOpusStream } from '@/core/formats/ogg-opus';
import { joinBytes } from '@/core/formats/join-bytes';
import { ChunkedBody, readHead } from './http-head';
import { OggPages } from './ogg-pages';

/** Bytes as a network brings them: in parts of any length. */
const parts = (bytes: Uint8Array, cuts: readonly number[]): Buffer[] => {
  const places = [0, ...cuts.map((cut) => cut % (bytes.length + 1)).sort((a, b) => a - b), bytes.length];
  return places.slice(1).map((to, k) => Buffer.from(bytes.subarray(places[k], to)));
};
const cuts = fc.array(fc.nat(), { maxLength: 30 });

describe('the practice radio reads', () => {
  it('a body in pieces, however it is cut on its way, and refuses what is none', () => {
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ minLength: 1, maxLength: 300 }), { maxLength: 20 }), cuts, (pieces, where) => {
        const coded = Buffer.concat([...pieces.flatMap((piece) => [Buffer.from(`${piece.length.toString(16)}\r\n`), piece, Buffer.from('\r\n')]), Buffer.from('0\r\n\r\n')]);
        const body = new ChunkedBody();
        expect(Buffer.concat(parts(coded, where).map((part) => body.push(part)))).toEqual(Buffer.concat(pieces));
        expect(body.ended).toBe(true);
      }),
    );
    expect(() => new ChunkedBody().push(Buffer.from('sound\r\n'))).toThrow('no length');
  });

  it('pages of Ogg, however they are cut: all of them, the head of the stream that runs, and its title', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.string({ maxLength: 30 }), fc.array(fc.uint8Array({ minLength: 1, maxLength: 700 }), { minLength: 1, maxLength: 20 })), { minLength: 1, maxLength: 4 }), cuts, (streams, where) => {
        const made = streams.map(([title, packets], k) => {
          const stream = new OggOpusStream(k + 1);
          return { title, head: stream.begin(2, 0, { TITLE: title }), rest: joinBytes([stream.sound(packets, 960), stream.end()]) };
        });
        const bytes = joinBytes(made.flatMap(({ head, rest }) => [head, rest]));
        const pages = new OggPages();
        expect(Buffer.concat(parts(bytes, where).map((part) => pages.push(part)))).toEqual(Buffer.from(bytes));
        expect([pages.head, pages.title]).toEqual([Buffer.from(made.at(-1)!.head), made.at(-1)!.title]);
      }),
    );
  });

  it('the head of a request, and nothing that is none', () => {
    const text = 'PUT /show?x=1 HTTP/1.1\r\nHost: radio.example\r\nIce-Name: Ferry: radio\r\n\r\nsound';
    expect(readHead(Buffer.from(text.slice(0, 40)))).toBeNull();
    const found = readHead(Buffer.from(text))!;
    expect(found.head).toMatchObject({ method: 'PUT', path: '/show', headers: { host: 'radio.example', 'ice-name': 'Ferry: radio' } });
    expect(text.slice(found.bodyAt)).toBe('sound');
    for (const wrong of ['hello\r\n\r\n', 'GET relative HTTP/1.1\r\n\r\n', 'GET / HTTP/1.1\r\n: none\r\n\r\n', 'x'.repeat(20_000)]) expect(() => readHead(Buffer.from(wrong))).toThrow();
  });
});
