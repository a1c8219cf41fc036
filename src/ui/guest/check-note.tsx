'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { useGuestState } from './guest-context';

const LOOK_MS = 200;

/** A line check is coming, or is on: so many seconds, and what it sounds like. */
export function CheckNote() {
  const check = useGuestState((state) => state.check);
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (!check) return;
    const timer = setInterval(() => setNow(performance.now()), LOOK_MS);
    return () => clearInterval(timer);
  }, [check]);
  if (!check || now === 0) return null;
  const begins = Math.ceil((check.beginsAt - now) / 1000);
  const share = Math.max(0, Math.min(1, (now - check.beginsAt) / (check.endsAt - check.beginsAt)));
  return (
    <Box role="status" px="16px" py="14px" bg="raised" borderWidth="2px" borderColor="lamp" borderRadius="lane">
      <Flex align="baseline" gap="10px">
        <Text fontSize="18px" fontWeight="700" flex="1">
          {begins > 0 ? `Line check in ${begins}` : 'Line check: please be quiet'}
        </Text>
        <Text fontFamily="mono" fontSize="15px" color="soft">
          {Math.max(0, Math.ceil((check.endsAt - Math.max(now, check.beginsAt)) / 1000))} s
        </Text>
      </Flex>
      <Text fontSize="15px" color="soft" mt="4px">
        A soft hiss finds out what you are sent and whether it comes back. Keep your headphones on.
      </Text>
      <Box mt="10px" h="6px" borderRadius="full" bg="surface" overflow="hidden" aria-hidden>
        <Box h="100%" bg="lamp" style={{ width: `${100 * share}%` }} />
      </Box>
    </Box>
  );
}
