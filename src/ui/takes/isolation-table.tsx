import { chakra, Text } from '@chakra-ui/react';
import type { TakeCheck } from '@/core/checks/take-check';
import type { TakeData } from '@/core/session/take-data';
import { formatLevel } from '../format';

const Table = chakra('table');
const Cell = chakra('td');
const Head = chakra('th');
const Go = chakra('button');

/** The isolation matrix: each row is a track, each column a source that is looked for in it. */
export function IsolationTable({ take, check, onGo }: { take: TakeData; check: TakeCheck; onGo(sample: number): void }) {
  const name = (id: string) => take.tracks.find((track) => track.id === id)?.name.split(' ')[0] ?? '';
  const inOrder = (of: 'source' | 'target') => take.tracks.map(({ id }) => id).filter((id) => check.isolation.some((pair) => pair[of] === id));
  const [sources, targets] = [inOrder('source'), inOrder('target')];
  return (
    <>
      <Table aria-label="Who is heard in whose track" w="100%" mt="4px" css={{ fontVariantNumeric: 'tabular-nums' }}>
        <thead>
          <tr>
            <Head textAlign="left" fontWeight="400" color="soft">
              track
            </Head>
            {sources.map((source) => (
              <Head key={source} scope="col" textAlign="right" fontWeight="600" px="3px" fontSize="12px" maxW="54px" truncate>
                {name(source)}
              </Head>
            ))}
          </tr>
        </thead>
        <tbody>
          {targets.map((target) => (
            <tr key={target}>
              <Head scope="row" textAlign="left" fontWeight="600" fontSize="12px">
                {name(target)}
              </Head>
              {sources.map((source) => {
                const found = check.isolation.find((one) => one.source === source && one.target === target);
                return (
                  <Cell key={source} textAlign="right" px="3px">
                    {!found && <Text as="span" color="faint">own</Text>}
                    {found?.verdict === 'clean' && 'none'}
                    {found?.verdict === 'not-measurable' && <Text as="span" color="soft" title="They never sounded at the same time.">?</Text>}
                    {(found?.verdict === 'bleeds' || found?.verdict === 'unknown') && (
                      <Go type="button" color="ember" textDecoration="underline" title={found.delayMs === null ? undefined : `${Math.round(found.delayMs)} ms late`} aria-label={`${name(source)} in ${name(target)}’s track: ${found.gainDb === null ? 'level unknown' : `${Math.round(found.gainDb)} dB`}`} onClick={() => found.atSample !== null && onGo(found.atSample)}>
                        {found.gainDb === null ? 'some' : formatLevel(found.gainDb)}
                      </Go>
                    )}
                  </Cell>
                );
              })}
            </tr>
          ))}
        </tbody>
      </Table>
      <Text color="soft" mt="3px">
        dB: the energy of what arrives against that of what was said; ? where they never sounded together.
      </Text>
    </>
  );
}
