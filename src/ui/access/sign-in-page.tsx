'use client';

import { sendJson } from '@/live/api';
import { AccessFrame } from './access-frame';
import { FormField } from './form-field';

export function SignInPage() {
  const signIn = async (values: FormData) => {
    await sendJson('POST', '/api/sign-in', { email: values.get('email'), password: values.get('password') });
    location.assign('/');
  };
  return (
    <AccessFrame title="Sign in" words="For those who make the show. Guests need no account: their link is enough." action="Sign in" onSubmit={signIn}>
      <FormField label="E-mail address" name="email" type="email" autoComplete="username" required />
      <FormField label="Password" name="password" type="password" autoComplete="current-password" required />
    </AccessFrame>
  );
}
