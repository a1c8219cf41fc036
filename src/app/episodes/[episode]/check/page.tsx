import type { Metadata } from 'next';
import { CheckPage } from '@/ui/check/check-page';

export const metadata: Metadata = { title: 'Check' };

export default function Check() {
  return <CheckPage />;
}
