import { Box, Heading, Text } from '@chakra-ui/react';
import { asPlanned } from '@/core/hearing/observation';
import type { LineCheck } from '@/core/linecheck/line-check';
import { checkInWords } from '@/core/linecheck/observe-check';
import { LocalTime } from '../local-time';

interface CheckReportProps {
  title: string;
  show: string;
  number: number;
  zone: string | null;
  check: LineCheck | null;
}

const db = (value: number | null): string => (value === null ? '–' : value.toFixed(1).replace('-', '−'));

/** What a line check found, as a page that prints. */
export function CheckReport({ title, show, number, zone, check }: CheckReportProps) {
  return (
    <Box as="main" maxW="960px" mx="auto" p="24px" css={{ '@media print': { padding: 0, color: '#000', background: '#fff' }, '& table': { borderCollapse: 'collapse', width: '100%' }, '& td, & th': { border: '1px solid var(--chakra-colors-hairline)', padding: '4px 7px', textAlign: 'left', fontSize: '13px' } }}>
      <Text fontSize="14px">
        {show} · episode {number}
      </Text>
      <Heading as="h1" fontFamily="heading" fontSize="24px">
        Line check of {title}
      </Heading>
      {check ? <Found check={check} zone={zone} /> : <Text mt="12px">No line check was made before this.</Text>}
    </Box>
  );
}

function Found({ check, zone }: { check: LineCheck; zone: string | null }) {
  const name = (id: string): string => check.names[id] ?? id;
  const listeners = [...new Set(check.crosspoints.map(({ listener }) => listener))];
  const sources = [...new Set(check.crosspoints.map(({ source }) => source))];
  const places = new Map(check.crosspoints.map((one) => [`${one.source} ${one.listener}`, one]));
  return (
    <>
      <Text mt="6px">
        <LocalTime at={check.at} zone={zone} />, {check.seconds} s, {check.passes === 2 ? 'two passes' : 'one pass'}. {checkInWords(check)}
      </Text>
      {check.duringTake && <Text fontWeight="700">A take ran meanwhile.</Text>}
      <Section title="Ways back outside the desk">
        {check.waysBack.length === 0 ? (
          <Text>Nothing came back.</Text>
        ) : (
          <table>
            <thead>
              <tr>
                <th>What is sent to</th>
                <th>comes back by</th>
                <th>dB</th>
                <th>ms</th>
              </tr>
            </thead>
            <tbody>
              {check.waysBack.map(({ from, to, gainDb, delayMs }) => (
                <tr key={`${from} ${to}`}>
                  <td>{name(from)}</td>
                  <td>{name(to)}</td>
                  <td>{db(gainDb)}</td>
                  <td>{Math.round(delayMs)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </Section>
      <Section title="Every crosspoint: measured (planned), dB">
        <Box overflowX="auto" tabIndex={0} role="region" aria-label="Measured crosspoints">
          <table>
            <thead>
              <tr>
                <th>is heard by</th>
                {listeners.map((listener) => (
                  <th key={listener}>{name(listener)}</th>
                ))}
              </tr>
            </thead>
            <tbody>
              {sources.map((source) => (
                <tr key={source}>
                  <th>{name(source)}</th>
                  {listeners.map((listener) => {
                    const place = places.get(`${source} ${listener}`);
                    if (!place) return <td key={listener} />;
                    const measured = place.farDb === undefined ? place.engineDb : place.farDb;
                    const good = asPlanned({ plannedDb: place.plannedDb, measuredDb: measured });
                    return (
                      <td key={listener} style={{ fontWeight: good ? 400 : 700 }}>
                        {db(measured)} ({db(place.plannedDb)}){good ? '' : ' !'}
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </table>
        </Box>
      </Section>
      <Section title="Inputs and far ends">
        <table>
          <tbody>
            {check.inputs.map(({ source, floorDb, digitalSilence }) => (
              <tr key={source}>
                <td>{name(source)}</td>
                <td>{digitalSilence ? 'digitally silent' : `ways back above ${db(floorDb)} dB would have been found`}{check.broke.includes(source) ? '; broke off meanwhile' : ''}</td>
              </tr>
            ))}
            {check.farEnds.map(({ listener, answered, lineDb, leak }) => (
              <tr key={listener}>
                <td>{name(listener)}, at their end</td>
                <td>
                  {!answered ? 'the page did not answer' : lineDb === null ? 'nothing arrived' : `the line takes ${db(-lineDb)} dB`}
                  {leak ? `; their microphone hears their loudspeakers at ${db(leak.gainDb)} dB after ${Math.round(leak.delayMs)} ms` : ''}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Section>
    </>
  );
}

function Section({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box as="section" mt="18px">
      <Heading as="h2" fontFamily="heading" fontSize="17px" mb="6px">
        {title}
      </Heading>
      {children}
    </Box>
  );
}
