import { auditPlan } from '@/core/hearing/audit/index';
import { NOTHING_ON_AIR } from '@/core/hearing/on-air';
import { NO_NOISE } from '../strip/strip-state';
import { observationsOf, stillHolds } from '@/core/linecheck/observe-check';
import type { DeskHabits } from '@/core/session/habits';
import type { DeskData } from '@/core/session/desk-data';
import { NO_DEVICES } from '@/core/devices/known-devices';
import { NOTHING_PLUGGED } from '../devices/plugged-state';
import type { DeskState } from './desk-state';

/** A desk that was just opened. */
export function initialDeskState(data: DeskData): DeskState {
  const habits: DeskHabits = { ...data.showHabits, ...data.ownHabits };
  return {
    place: 'opening',
    boxAway: false,
    signedOut: false,
    watched: null,
    seats: data.seats,
    invitations: data.invitations,
    lines: {},
    call: 'off',
    soundStopped: false,
    voice: { from: 'nothing', reason: 'no call runs' },
    preferPractice: false,
    plan: data.plan,
    planSaving: 'saved',
    onAir: { ...NOTHING_ON_AIR, talkDimDb: habits.talkDimDb },
    listeningUntil: null,
    observations: data.lastCheck && stillHolds(data.lastCheck, Date.now()) ? observationsOf(data.plan, data.lastCheck) : [],
    voices: {},
    answers: {},
    check: null,
    testCall: null,
    echoes: {},
    stripListening: null,
    noise: NO_NOISE,
    cancelling: [],
    oneChecks: {},
    lastCheck: data.lastCheck,
    audit: auditPlan(data.plan),
    past: [],
    future: [],
    pads: data.pads,
    padLevels: Object.fromEntries(data.pads.map(({ sound, levelDb }) => [sound, levelDb])),
    cued: null,
    listenFirst: false,
    soundSettings: data.soundSettings,
    recordingSettings: data.recordingSettings,
    marks: [],
    share: null,
    midi: { bindings: data.midi, state: 'off', inputs: [], simulated: false, learning: null, last: null },
    recording: null,
    lastTake: null,
    openTake: data.openTake,
    habits,
    showHabits: data.showHabits,
    leftOut: {},
    space: { here: null, server: null },
    keys: data.keys,
    conditions: [],
    air: { stations: data.stations, broadcasts: {}, readings: {}, delaysMs: {}, typed: null, title: '', heard: null },
    plugged: { ...NOTHING_PLUGGED, devices: { ...NO_DEVICES, permission: 'unasked', canChooseOutputs: true, offersMadeUp: false } },
  };
}
