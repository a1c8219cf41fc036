'use client';

import { Flex, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { sendJson, type ServerError } from '@/live/api';
import { ControlButton } from '../shell/control-button';
import { Panel } from '../shell/panel';

/** Removes something for good: asked twice, and a third time where sound goes with it. Only owners see this. */
export function RemovePanel({ what, name, address }: { what: 'episode' | 'show'; name: string; address: string }) {
  const [asking, setAsking] = useState<'no' | 'once' | 'with-takes'>('no');
  const [said, setSaid] = useState('');
  const remove = (withTakes: boolean) =>
    void sendJson('DELETE', address, { withTakes }).then(
      () => location.assign('/'),
      (error: ServerError) => {
        setSaid(error.message);
        setAsking(error.code === 'has-takes' ? 'with-takes' : 'no');
      },
    );
  return (
    <Panel title={`Remove this ${what}`}>
      <Text role="alert" fontSize="14px" color={said === '' ? 'soft' : 'ember'} mb="8px">
        {said || `${name} goes with everything in it, and cannot be brought back.`}
      </Text>
      <Flex gap="8px" wrap="wrap">
        {asking === 'no' && <ControlButton onClick={() => setAsking('once')}>Remove {name} …</ControlButton>}
        {asking === 'once' && (
          <ControlButton tone="ember" onClick={() => remove(false)}>
            Yes, remove {name}
          </ControlButton>
        )}
        {asking === 'with-takes' && (
          <ControlButton tone="ember" onClick={() => remove(true)}>
            Remove it with its takes
          </ControlButton>
        )}
        {asking !== 'no' && <ControlButton onClick={() => (setAsking('no'), setSaid(''))}>Keep it</ControlButton>}
      </Flex>
    </Panel>
  );
}
