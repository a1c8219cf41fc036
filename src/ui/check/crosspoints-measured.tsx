'use client';

import { Box, chakra, Text } from '@chakra-ui/react';
import { asPlanned } from '@/core/hearing/observation';
import type { LineCheck } from '@/core/linecheck/line-check';
import { shortNames } from '@/core/hearing/short-names';
import { listenersOf, sourcesOf } from '@/core/hearing/plan';
import { isOwnVoice } from '@/core/hearing/operands';
import { useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { Age } from './age';

type Place = LineCheck['crosspoints'][number];

const Head = chakra('th');
/** The grid once more, as it was measured: where a mix ends if somebody measures there, where it is made otherwise. */
export function CrosspointsMeasured() {
  const plan = useDeskState((state) => state.plan);
  const check = useDeskState((state) => state.lastCheck);
  if (!check) {
    return (
      <Panel title="Every crosspoint">
        <Text fontSize="14px" color="soft">
          After a line check every place of the grid stands here twice: as planned, and as measured at the guests’ own ends.
        </Text>
      </Panel>
    );
  }
  const listeners = listenersOf(plan).filter(({ id }) => check.crosspoints.some((one) => one.listener === id));
  const sources = sourcesOf(plan).filter(({ id }) => check.crosspoints.some((one) => one.source === id));
  const places = new Map(check.crosspoints.map((one) => [`${one.source} ${one.listener}`, one]));
  const short = shortNames(listeners.map(({ name }) => name), listeners.length > 9 ? 6 : 11);
  const small = listeners.length > 9;
  return (
    <Panel
      title="Every crosspoint"
      aside={
        <>
          measured <Age at={check.at} /> · large: measured, small: planned, dB
        </>
      }
    >
      <Box overflowX="auto" tabIndex={0} role="region" aria-label="Measured crosspoints">
        <Box as="table" w="100%" css={{ borderCollapse: 'collapse', '& td, & th': { padding: small ? '3px 2px' : '5px 6px', borderBottom: '1px solid var(--chakra-colors-hairline)' } }}>
          <thead>
            <tr>
              <Head textAlign="left" fontSize="12.5px" color="soft" fontWeight="400">
                is heard ↓ by →
              </Head>
              {listeners.map(({ id, name }, k) => (
                <Head key={id} scope="col" title={name} fontSize={small ? '12px' : '13.5px'} fontWeight="700">
                  {short[k]}
                </Head>
              ))}
            </tr>
          </thead>
          <tbody>
            {sources.map((source) => (
              <tr key={source.id}>
                <Head scope="row" textAlign="left" fontSize="14px" fontWeight="600" whiteSpace="nowrap">
                  {source.name}
                </Head>
                {listeners.map((listener) => (
                  <Measured key={listener.id} place={places.get(`${source.id} ${listener.id}`)} own={isOwnVoice(source, listener)} small={small} who={`${source.name} by ${listener.name}`} />
                ))}
              </tr>
            ))}
          </tbody>
        </Box>
      </Box>
    </Panel>
  );
}

const db = (value: number | null): string => (value === null ? '−∞' : `${Math.abs(value) < 0.05 ? '0' : value.toFixed(1)}`.replace('-', '−'));

function Measured({ place, own, small, who }: { place: Place | undefined; own: boolean; small: boolean; who: string }) {
  if (!place) return <td />;
  const { plannedDb, engineDb, farDb } = place;
  const measured = farDb === undefined || !asPlanned({ plannedDb, measuredDb: engineDb }) ? engineDb : farDb;
  const good = asPlanned({ plannedDb, measuredDb: measured });
  const where = farDb === undefined ? 'at the desk' : 'at their end';
  const quiet = good && plannedDb === null;
  return (
    <Box
      as="td"
      textAlign="center"
      whiteSpace="nowrap"
      aria-label={`${who}: planned ${db(plannedDb)}, measured ${db(measured)} ${where}`}
      title={`${who}: planned ${db(plannedDb)} dB, measured ${db(measured)} dB ${where}`}
      bg={good ? undefined : 'emberGround'}
      outline={good ? undefined : '1px solid var(--chakra-colors-ember)'}
      outlineOffset="-2px"
      bgImage={own ? 'repeating-linear-gradient(135deg, var(--stripe) 0 6px, transparent 6px 13px)' : undefined}
      css={{ '--stripe': 'color-mix(in srgb, var(--chakra-colors-hairline) 45%, transparent)' }}
    >
      {quiet ? (
        <Text as="span" fontSize="12px" color="faint">
          {own ? 'own' : '·'}
        </Text>
      ) : (
        <>
          <Text as="span" fontFamily="mono" fontSize={small ? '12.5px' : '14px'} fontWeight={good ? '500' : '700'} color={good ? 'text' : 'ember'}>
            {db(measured)}
          </Text>{' '}
          <Text as="span" fontFamily="mono" fontSize="11px" color="soft">
            {db(plannedDb)}
          </Text>
        </>
      )}
    </Box>
  );
}
