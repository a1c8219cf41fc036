'use client';

import { Flex, NativeSelect, Text } from '@chakra-ui/react';
import { useCallback, useEffect, useState } from 'react';
import { SHOW_ROLES, type ShowRole } from '@/core/access/rights';
import { getJson, sendJson } from '@/live/api';
import { LocalTime } from '../local-time';
import { ControlButton } from '../shell/control-button';
import { CopyText } from '../shell/copy-text';
import { Panel } from '../shell/panel';
import { useShowSettings } from './show-settings';

interface ColleagueLink {
  id: string;
  role: ShowRole;
  madeBy: string | null;
  /** ISO 8601. */
  expiresAt: string;
}

interface Member {
  id: string;
  name: string;
  email: string;
  role: ShowRole;
}

const ROLE_WORDS: Record<ShowRole, string> = {
  owner: 'Owner: everything, and says who else may',
  host: 'Host: works the desk, invites, records',
  producer: 'Producer: watches and talks back',
};

/** Who works on a show; only its owners see this. */
export function MembersPanel() {
  const { show, me } = useShowSettings();
  const [members, setMembers] = useState<Member[]>([]);
  const [links, setLinks] = useState<ColleagueLink[]>([]);
  const [role, setRole] = useState<ShowRole>('producer');
  const [link, setLink] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const address = `/api/shows/${show.id}/members`;
  const tell = (error: Error) => setTrouble(error.message);
  const load = useCallback(
    () =>
      getJson<{ members: Member[]; links: ColleagueLink[] }>(address).then((there) => {
        setMembers(there.members);
        setLinks(there.links);
      }, (error: Error) => setTrouble(error.message)),
    [address],
  );
  useEffect(() => void load(), [load]);
  return (
    <Panel title={`Who works on ${show.name}`}>
      {members.map((member) => (
        <Flex key={member.id} py="6px" gap="12px" align="center">
          <Text flex="1">
            {member.name}{' '}
            <Text as="span" color="soft" fontSize="14px">
              {member.email}
            </Text>
          </Text>
          {member.id === me ? (
            <Text color="soft" fontSize="14px">
              {member.role}
            </Text>
          ) : (
            <NativeSelect.Root size="sm" w="112px" flex="none">
              <NativeSelect.Field
                aria-label={`Role of ${member.name}`}
                value={member.role}
                onChange={(event) => void sendJson('PUT', `${address}/${member.id}`, { role: event.target.value }).then(load, tell)}
                bg="ground"
                borderColor="hairline"
              >
                {SHOW_ROLES.map((one) => (
                  <option key={one} value={one}>
                    {one}
                  </option>
                ))}
              </NativeSelect.Field>
              <NativeSelect.Indicator />
            </NativeSelect.Root>
          )}
          {member.id !== me && (
            <ControlButton h="30px" fontSize="13px" onClick={() => void sendJson('DELETE', `${address}/${member.id}`).then(load, tell)}>
              Remove {member.name}
            </ControlButton>
          )}
        </Flex>
      ))}
      {links.map(({ id, role: linkRole, madeBy, expiresAt }) => (
        <Flex key={id} py="6px" gap="12px" align="center">
          <Text flex="1" color="soft" fontSize="14px">
            A link for one {linkRole}, not used yet{madeBy && `, made by ${madeBy}`}; it runs out on <LocalTime at={expiresAt} style="day" />
          </Text>
          <ControlButton h="30px" fontSize="13px" onClick={() => void sendJson('DELETE', `/api/shows/${show.id}/links/${id}`).then(load, tell)}>
            Revoke
          </ControlButton>
        </Flex>
      ))}
      <Flex gap="10px" mt="10px" align="center" wrap="wrap">
        <NativeSelect.Root size="sm" w="100%">
          <NativeSelect.Field aria-label="Role of a new colleague" value={role} onChange={(event) => setRole(event.target.value as ShowRole)} bg="ground" borderColor="hairline">
            {SHOW_ROLES.map((one) => (
              <option key={one} value={one}>
                {ROLE_WORDS[one]}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <ControlButton onClick={() => void sendJson<{ link: string }>('POST', address, { role }).then((made) => (setLink(made.link), load()), tell)}>Make a link for a colleague</ControlButton>
      </Flex>
      {link && <CopyText label="Link for one colleague, seven days" text={link} />}
      <Text role="alert" color="ember">
        {trouble}
      </Text>
    </Panel>
  );
}
