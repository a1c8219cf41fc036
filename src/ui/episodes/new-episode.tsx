'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { Plus } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { sendJson } from '@/live/api';
import { FormField } from '../access/form-field';
import { ControlButton } from '../shell/control-button';
import type { OwnShow } from './own-show';

interface NewEpisodeProps {
  show: OwnShow;
  nextNumber: number;
  /** Asked for at once: the show has none yet. */
  first?: boolean;
}

/** Makes an episode of a show; the host and the pads come from the newest one. */
export function NewEpisode({ show, nextNumber, first = false }: NewEpisodeProps) {
  const router = useRouter();
  const [open, setOpen] = useState(first);
  const [trouble, setTrouble] = useState<string | null>(null);
  if (!open) {
    return (
      <ControlButton aria-label={`New episode of ${show.name}`} onClick={() => setOpen(true)}>
        <Plus size={16} /> New episode
      </ControlButton>
    );
  }
  const make = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const values = new FormData(event.currentTarget);
    const when = String(values.get('when'));
    try {
      const { episode } = await sendJson<{ episode: string }>('POST', `/api/shows/${show.id}/episodes`, {
        number: Number(values.get('number')),
        title: values.get('title'),
        plannedAt: when === '' ? null : new Date(when).toISOString(),
        plannedMinutes: Number(values.get('minutes')),
      });
      router.push(`/episodes/${episode}/prepare`);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <Box as="form" aria-label="New episode" onSubmit={(event) => void make(event as unknown as FormEvent<HTMLFormElement>)} w="100%" bg="surface" borderWidth="1px" borderColor="hairline" borderRadius="lane" p="16px 22px">
      {first && (
        <Text mb="10px" color="soft">
          Now its first episode. A date gives your guests a calendar entry with their link; it can come later.
        </Text>
      )}
      <Flex gap="14px" wrap="wrap" align="end">
        <Box w="90px">
          <FormField label="Number" name="number" type="number" min={1} defaultValue={nextNumber} required />
        </Box>
        <Box flex="1" minW="220px">
          <FormField label="Title" name="title" maxLength={120} required autoFocus />
        </Box>
        <Box w="220px">
          <FormField label="Date and time" name="when" type="datetime-local" />
        </Box>
        <Box w="100px">
          <FormField label="Minutes" name="minutes" type="number" min={5} max={1440} defaultValue={60} required />
        </Box>
        <ControlButton type="submit" tone="lamp" h="40px">
          Make the episode
        </ControlButton>
        {!first && (
          <ControlButton h="40px" onClick={() => setOpen(false)}>
            Not now
          </ControlButton>
        )}
      </Flex>
      <Text role="alert" color="ember" mt="6px">
        {trouble}
      </Text>
    </Box>
  );
}
