'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { Plus } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { sendJson } from '@/live/api';
import { FormField } from '../access/form-field';
import { ControlButton } from '../shell/control-button';

export interface OwnShow {
  id: string;
  name: string;
  role: 'owner' | 'host' | 'producer';
}

/** Makes an episode of a show; the host and the pads come from the newest one. */
export function NewEpisode({ show, nextNumber }: { show: OwnShow; nextNumber: number }) {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  if (!open) {
    return (
      <ControlButton onClick={() => setOpen(true)}>
        <Plus size={16} /> New episode of {show.name}
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
    <Box as="form" aria-label="New episode" onSubmit={(event) => void make(event as unknown as FormEvent<HTMLFormElement>)} bg="surface" borderWidth="1px" borderColor="hairline" borderRadius="lane" p="18px 22px" mb="12px">
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
      </Flex>
      <Text role="alert" color="ember" mt="8px" minH="22px">
        {trouble}
      </Text>
    </Box>
  );
}

/** Makes a show of one's own. */
export function NewShow() {
  const router = useRouter();
  const [trouble, setTrouble] = useState<string | null>(null);
  const make = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    try {
      await sendJson('POST', '/api/shows', { name: new FormData(form).get('name'), timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone });
      form.reset();
      router.refresh();
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <form aria-label="New show" onSubmit={(event) => void make(event)}>
      <Flex gap="10px" align="end">
        <Box w="280px">
          <FormField label="A new show of mine" name="name" maxLength={80} required placeholder="Its name" />
        </Box>
        <ControlButton type="submit" h="40px">
          Make the show
        </ControlButton>
      </Flex>
      <Text role="alert" color="ember">
        {trouble}
      </Text>
    </form>
  );
}
