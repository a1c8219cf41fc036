'use client';

import { Check, Copy } from 'lucide-react';
import { useState } from 'react';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { invitationsInWords, type Made } from './made-link';

/** Every link that was made just now, as one text a person. */
export function AllInvitations({ made }: { made: Record<string, Made | null> }) {
  const desk = useDesk();
  const seats = useDeskState((state) => state.seats);
  const [copied, setCopied] = useState('');
  const invited = seats.flatMap(({ id, name }) => {
    const link = made[id]?.link;
    return link ? [{ name, link }] : [];
  });
  if (invited.length < 2) return null;
  const { show, title } = desk.data.episode;
  const text = invitationsInWords(show, title, invited);
  return (
    <ControlButton h="30px" tone="lamp" onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(text), () => setCopied(''))}>
      {copied === text ? <Check size={16} /> : <Copy size={16} />} {copied === text ? `Copied ${invited.length} invitations` : 'Copy all invitations'}
    </ControlButton>
  );
}
