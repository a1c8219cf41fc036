'use client';

import { Checkbox, Field, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { ControlButton } from '../shell/control-button';
import { useGuest, useGuestState } from './guest-context';

/** Who is it, and may we record you? */
export function WelcomeStep() {
  const guest = useGuest();
  const known = useGuestState((state) => state.name);
  const opening = useGuestState((state) => state.box === 'opening');
  const [name, setName] = useState(known);
  const [agreed, setAgreed] = useState(false);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const missing = name.trim() === '' ? 'Write your name first.' : agreed ? null : 'Recording needs your consent: tick the box above.';
  const go = async () => {
    if (missing) return setTrouble(missing);
    setBusy(true);
    setTrouble(null);
    try {
      await guest.agree(name.trim());
    } catch (error) {
      setTrouble((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void go();
      }}
    >
      <Text fontSize="17px">
        {guest.data.host} has invited you to talk. Put headphones on, sit somewhere quiet, and it takes less than a minute.
      </Text>
      <Field.Root mt="20px">
        <Field.Label fontSize="15px">Your name</Field.Label>
        <Input value={name} maxLength={60} autoComplete="name" onChange={(event) => setName(event.target.value)} h="46px" fontSize="17px" bg="surface" borderColor="hairline" />
      </Field.Root>
      <Checkbox.Root mt="18px" checked={agreed} onCheckedChange={({ checked }) => setAgreed(checked === true)} alignItems="flex-start" gap="12px">
        <Checkbox.HiddenInput />
        <Checkbox.Control mt="2px" boxSize="24px" borderColor="faint" />
        <Checkbox.Label fontSize="16px" fontWeight="400" lineHeight="1.4">
          {guest.data.consent}
        </Checkbox.Label>
      </Checkbox.Root>
      <ControlButton type="submit" mt="22px" tone="lamp" h="50px" w="100%" fontSize="17px" disabled={busy || opening}>
        {busy ? 'One moment …' : 'Go on to the sound check'}
      </ControlButton>
      <Text role="alert" mt="10px" minH="24px" fontSize="15px" color="ember">
        {trouble}
      </Text>
    </form>
  );
}
