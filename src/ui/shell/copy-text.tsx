'use client';

import { Flex, Input } from '@chakra-ui/react';
import { Check, Copy } from 'lucide-react';
import { useState } from 'react';
import { ControlButton } from './control-button';

/** A text to take away: shown whole, copied with one press. */
export function CopyText({ label, text }: { label: string; text: string }) {
  const [copied, setCopied] = useState(false);
  const copy = () =>
    void navigator.clipboard.writeText(text).then(
      () => setCopied(true),
      () => setCopied(false),
    );
  return (
    <Flex gap="8px" mt="10px">
      <Input aria-label={label} readOnly value={text} fontSize="13px" h="34px" bg="ground" borderColor="hairline" onFocus={(event) => event.target.select()} />
      <ControlButton flex="none" onClick={copy} title={label}>
        {copied ? <Check size={15} /> : <Copy size={15} />}
        {copied ? 'Copied' : 'Copy'}
      </ControlButton>
    </Flex>
  );
}
