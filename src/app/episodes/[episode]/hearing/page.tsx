import type { Metadata } from 'next';
import { HearingPage } from '@/ui/hearing/hearing-page';

export const metadata: Metadata = { title: 'Hearing' };

export default function Hearing() {
  return <HearingPage />;
}
