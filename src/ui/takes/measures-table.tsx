import { chakra, Text } from '@chakra-ui/react';
import type { TakeCheck } from '@/core/checks/take-check';
import type { TakeData } from '@/core/session/take-data';
import { formatLevel } from '../format';

const Table = chakra('table');
const Cell = chakra('td');
const Head = chakra('th');

const COLUMNS = ['LUFS', 'range', 'peak', 'noise', 'speech'];

/** Each source as it was measured. */
export function MeasuresTable({ take, check }: { take: TakeData; check: TakeCheck }) {
  const level = (db: number | null) => (db === null ? '–' : formatLevel(db));
  return (
    <>
      <Table aria-label="Levels and noise of each track" w="100%" mt="4px" css={{ fontVariantNumeric: 'tabular-nums' }}>
        <thead>
          <tr>
            <Head textAlign="left" fontWeight="400" color="soft">
              track
            </Head>
            {COLUMNS.map((column) => (
              <Head key={column} scope="col" textAlign="right" fontSize="12px" fontWeight="600" pl="6px">
                {column}
              </Head>
            ))}
          </tr>
        </thead>
        <tbody>
          {check.tracks.map((one) => (
            <tr key={one.track}>
              <Head scope="row" textAlign="left" fontSize="12px" fontWeight="600" maxW="90px" truncate>
                {take.tracks.find(({ id }) => id === one.track)?.name.split(' ')[0]}
              </Head>
              {[level(one.integratedLufs), one.rangeLu.toFixed(0), level(one.truePeakDb), level(one.noiseFloorDb), `${Math.round(100 * one.speechShare)} %`].map((value, k) => (
                <Cell key={COLUMNS[k]} textAlign="right" pl="6px">
                  {value}
                </Cell>
              ))}
            </tr>
          ))}
        </tbody>
      </Table>
      <Text color="soft" mt="3px">
        Integrated loudness, range in LU, true peak and noise in dBFS, share of the time with sound above the noise.
      </Text>
    </>
  );
}
