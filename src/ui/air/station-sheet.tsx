'use client';

import { Checkbox, Field, Flex, Grid, NativeSelect, Text } from '@chakra-ui/react';
import { useState, type FormEvent, type ReactNode } from 'react';
import type { ListenerId } from '@/core/hearing/ids';
import { MP3_KBPS, NEW_STATION, OPUS_KBPS, PRACTICE_RADIO, troubleWithAddress, type Station, type StationSettings, type StreamCoding } from '@/core/air/station';
import { FormField } from '../access/form-field';
import { mixTitle, outletMixes } from '../devices/outlet-words';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Sheet } from '../shell/sheet';

/** Everything of a station, in one form. */
export function StationSheet({ station, onClose }: { station: Station | null; onClose(): void }) {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const [settings, setSettings] = useState<StationSettings>(station?.settings ?? NEW_STATION);
  const [password, setPassword] = useState('');
  const [said, setSaid] = useState('');
  const change = (next: Partial<StationSettings>) => setSettings({ ...settings, ...next });
  const practice = settings.address === PRACTICE_RADIO;
  const choosePlace = (place: string) => change(place === PRACTICE_RADIO ? { address: PRACTICE_RADIO, name: NEW_STATION.name } : { address: 'https://', name: practice ? '' : settings.name });
  const keep = (event: FormEvent) => {
    event.preventDefault();
    const wrong = practice ? null : troubleWithAddress(settings.address.trim());
    if (wrong) return setSaid(wrong);
    desk.air.keepStation(station?.id ?? null, settings, password === '' ? null : password).then(onClose, (error: Error) => setSaid(error.message));
  };
  const rates = settings.coding.codec === 'mp3' ? MP3_KBPS : OPUS_KBPS;
  return (
    <Sheet title={station ? `Station ${station.settings.name}` : 'A station on internet radio'} onClose={onClose} scrollBehavior="inside">
      <form onSubmit={keep}>
        <Grid templateColumns={{ base: '1fr', md: '1fr 1fr' }} gap="12px" alignItems="start">
          <Choice label="Where to" value={practice ? PRACTICE_RADIO : 'server'} onChoose={choosePlace}>
            <option value={PRACTICE_RADIO}>The practice radio on this machine</option>
            <option value="server">A server of mine</option>
          </Choice>
          <Choice label="What is sent" value={settings.listener} onChoose={(listener) => change({ listener: listener as ListenerId })}>
            {outletMixes(plan).map(({ id }) => (
              <option key={id} value={id}>
                {mixTitle(plan, id)}
              </option>
            ))}
          </Choice>
          <FormField label="Name listeners see" required maxLength={80} value={settings.name} onChange={(event) => change({ name: event.target.value })} />
          <Flex gap="12px">
            <Choice label="Coding" value={settings.coding.codec} onChoose={(codec) => change({ coding: codec === 'mp3' ? { codec: 'mp3', kbps: 128 } : { codec: 'opus', kbps: 96 } })}>
              <option value="mp3">MP3</option>
              <option value="opus">Ogg Opus</option>
            </Choice>
            <Choice label="Rate" value={String(settings.coding.kbps)} onChoose={(kbps) => change({ coding: { ...settings.coding, kbps: Number(kbps) } as StreamCoding })}>
              {rates.map((kbps) => (
                <option key={kbps} value={kbps}>
                  {kbps} kbit/s
                </option>
              ))}
            </Choice>
          </Flex>
          {!practice && (
            <>
              <FormField label="Address with mount" type="url" required maxLength={300} placeholder="https://radio.example:8443/show" value={settings.address} onChange={(event) => change({ address: event.target.value })} />
              <Flex gap="12px">
                <FormField label="User name" required maxLength={60} autoComplete="off" value={settings.user} onChange={(event) => change({ user: event.target.value })} />
                <FormField label="Password" type="password" required={!station?.hasPassword} maxLength={200} autoComplete="new-password" placeholder={station?.hasPassword ? 'kept; type to change it' : ''} value={password} onChange={(event) => setPassword(event.target.value)} />
              </Flex>
            </>
          )}
          <FormField label="What it is about" maxLength={200} value={settings.about} onChange={(event) => change({ about: event.target.value })} />
          <Flex gap="12px">
            <FormField label="Genre" maxLength={60} value={settings.genre} onChange={(event) => change({ genre: event.target.value })} />
            <FormField label="Web page" maxLength={200} value={settings.homepage} onChange={(event) => change({ homepage: event.target.value })} />
          </Flex>
        </Grid>
        <Flex direction="column" gap="8px" mt="14px">
          <Tick checked={settings.levelled} onChange={(levelled) => change({ levelled })}>
            Bring it slowly to the show’s loudness (on the air only; before it is coded, peaks are always held below −1 dBTP)
          </Tick>
          {!practice && (
            <>
              <Tick checked={settings.listed} onChange={(listed) => change({ listed })}>
                The server may put it into public lists
              </Tick>
              <Tick checked={settings.chunked} onChange={(chunked) => change({ chunked })}>
                Send it in chunks (only for servers that ask for it)
              </Tick>
              <Text fontSize="13px" color="soft">
                Only servers that whoever runs this installation allows are reached, certificates are verified, and the password is kept encrypted and never shown again. With another address it has to be typed again.
              </Text>
            </>
          )}
        </Flex>
        <Text role="alert" fontSize="14px" color="ember" mt="10px">
          {said}
        </Text>
        <Flex gap="10px" mt="10px">
          <ControlButton type="submit" tone="lamp">
            {station ? 'Keep it' : 'Add the station'}
          </ControlButton>
          <ControlButton onClick={onClose}>Cancel</ControlButton>
        </Flex>
      </form>
    </Sheet>
  );
}

function Choice({ label, value, onChoose, children }: { label: string; value: string; onChoose(value: string): void; children: ReactNode }) {
  return (
    <Field.Root>
      <Field.Label fontSize="14px" color="soft">
        {label}
      </Field.Label>
      <NativeSelect.Root>
        <NativeSelect.Field h="40px" fontSize="16px" bg="ground" borderColor="hairline" value={value} onChange={(event) => onChoose(event.target.value)}>
          {children}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Field.Root>
  );
}

function Tick({ checked, onChange, children }: { checked: boolean; onChange(checked: boolean): void; children: ReactNode }) {
  return (
    <Checkbox.Root size="sm" checked={checked} onCheckedChange={({ checked: next }) => onChange(next === true)}>
      <Checkbox.HiddenInput />
      <Checkbox.Control borderColor="soft" />
      <Checkbox.Label fontSize="14px" fontWeight="400">
        {children}
      </Checkbox.Label>
    </Checkbox.Root>
  );
}
