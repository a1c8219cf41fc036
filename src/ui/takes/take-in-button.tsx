'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { PackageOpen } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useRef, useState } from 'react';
import { ControlButton } from '../shell/control-button';
import { FileInput } from '../shell/file-input';

/** Takes in a take that another installation has packed up. */
export function TakeInButton({ episode }: { episode: string }) {
  const router = useRouter();
  const file = useRef<HTMLInputElement>(null);
  const [share, setShare] = useState<number | null>(null);
  const [said, setSaid] = useState({ words: '', trouble: false });
  const take = async (zip: File) => {
    setShare(0);
    setSaid({ words: '', trouble: false });
    try {
      const { takeIn } = await import('@/live/takes/take-in');
      const { number } = await takeIn(episode, zip, setShare);
      setSaid({ words: `${zip.name} is take ${number} here.`, trouble: false });
    } catch (error) {
      setSaid({ words: `${zip.name} was not taken in. ${(error as Error).message}`, trouble: true });
    }
    setShare(null);
    router.refresh();
  };
  return (
    <Box>
      <FileInput ref={file} label="The ZIP of a take" accept=".zip,application/zip" onFile={(zip) => void take(zip)} />
      <Flex align="center" gap="12px" wrap="wrap">
        <ControlButton h="34px" disabled={share !== null} title="The ZIP of all tracks that a take was downloaded as, here or at another installation." onClick={() => file.current?.click()}>
          <PackageOpen size={16} aria-hidden /> {share === null ? 'Take one in …' : `Taking it in, ${Math.round(100 * share)} %`}
        </ControlButton>
        <Text role={said.trouble ? 'alert' : 'status'} fontSize="14px" color={said.trouble ? 'ember' : 'soft'}>
          {said.words}
        </Text>
      </Flex>
    </Box>
  );
}
