'use client';

import { Box, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { sendJson } from '@/live/api';
import { ControlButton } from '../shell/control-button';
import { AccessFrame } from './access-frame';
import { FormField } from './form-field';

interface NewAccountPageProps {
  /** From a colleague's link; the very first account has none. */
  colleague?: { link: string; show: string; role: string; signedInAs: string | null };
}

export function NewAccountPage({ colleague }: NewAccountPageProps) {
  const make = async (values: FormData) => {
    const { name, email, password, setupCode } = Object.fromEntries(values);
    await sendJson('POST', '/api/accounts', { name, email, password, ...(colleague ? { link: colleague.link } : { setupCode }) });
    location.assign('/');
  };
  return (
    <>
      <AccessFrame
        title={colleague ? `Join ${colleague.show}` : 'Welcome'}
        words={colleague ? `You will be ${colleague.role} of the show. Make an account for yourself.` : 'Make the first account. It can make shows and let colleagues in.'}
        action="Make the account"
        onSubmit={make}
      >
        {!colleague && <FormField label="Setup code" name="setupCode" required autoComplete="off" help="Printed where the product was started." />}
        <FormField label="Your name" name="name" required maxLength={60} autoComplete="name" />
        <FormField label="E-mail address" name="email" type="email" required autoComplete="username" />
        <FormField label="Password" name="password" type="password" required minLength={10} autoComplete="new-password" help="At least ten characters." />
      </AccessFrame>
      {colleague?.signedInAs && <JoinAs link={colleague.link} name={colleague.signedInAs} />}
    </>
  );
}

function JoinAs({ link, name }: { link: string; name: string }) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const join = () =>
    sendJson('POST', '/api/memberships', { link }).then(
      () => location.assign('/'),
      (error: Error) => setTrouble(error.message),
    );
  return (
    <Box maxW="420px" mx="auto" px="20px" pb="40px">
      <ControlButton w="100%" h="42px" onClick={() => void join()}>
        Join as {name}, who is signed in here
      </ControlButton>
      <Text role="alert" color="ember" mt="8px">
        {trouble}
      </Text>
    </Box>
  );
}
