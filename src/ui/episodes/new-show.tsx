'use client';

import { Flex, Text } from '@chakra-ui/react';
import { Plus } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { sendJson } from '@/live/api';
import { FormField } from '../access/form-field';
import { ControlButton } from '../shell/control-button';

/** Makes a show of one's own. @param first asked for at once: there is none yet */
export function NewShow({ first = false }: { first?: boolean }) {
  const router = useRouter();
  const [open, setOpen] = useState(first);
  const [trouble, setTrouble] = useState<string | null>(null);
  const make = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    try {
      await sendJson('POST', '/api/shows', { name: new FormData(form).get('name'), timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone });
      setOpen(false);
      setTrouble(null);
      router.refresh();
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  if (!open) {
    return (
      <ControlButton onClick={() => setOpen(true)}>
        <Plus size={16} /> New show
      </ControlButton>
    );
  }
  return (
    <form aria-label="New show" onSubmit={(event) => void make(event)}>
      <Flex gap="10px" align="end">
        <FormField label="Name of the show" name="name" maxLength={80} required autoFocus />
        <ControlButton type="submit" tone="lamp" h="40px">
          Make the show
        </ControlButton>
      </Flex>
      <Text role="alert" color="ember">
        {trouble}
      </Text>
    </form>
  );
}
