'use client';

import { sendJson } from '@/live/api';
import { AccessFrame } from './access-frame';
import { FormField } from './form-field';

export function ResetPage({ token }: { token: string }) {
  const reset = async (values: FormData) => {
    await sendJson('POST', '/api/password-resets', { token, password: values.get('password') });
    location.assign('/');
  };
  return (
    <AccessFrame title="Another password" words="Set the password you will sign in with from now on. Every browser that is signed in with the old one is signed out." action="Set it" onSubmit={reset}>
      <FormField label="New password" name="password" type="password" autoComplete="new-password" minLength={10} required help="at least 10 characters" />
    </AccessFrame>
  );
}
