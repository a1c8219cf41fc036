import { Box, Link } from '@chakra-ui/react';
import type { TakeData } from '@/core/session/take-data';
import { checkInWords } from '@/core/linecheck/observe-check';
import { LocalTime } from '../local-time';
import { useDesk } from '../shell/desk-context';

/** What was measured of the lines before the take. */
export function LineCheckNote({ take }: { take: TakeData }) {
  const desk = useDesk();
  const check = take.lineCheck;
  if (!check) return null;
  return (
    <Box as="section" aria-label="Line check" fontSize="14px" color="soft">
      Line check {check.duringTake === take.id ? 'while it ran' : 'before it'}, <LocalTime at={check.at} />: {checkInWords(check)}{' '}
      <Link href={`/checks/${desk.data.episode.id}?take=${take.id}`} target="_blank" rel="noreferrer" color="lampCore">
        All of it
      </Link>
    </Box>
  );
}
