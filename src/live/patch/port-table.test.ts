import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compilePlan } from '@/core/hearing/compile';
import { returnOf, voiceOf, type ListenerId, type SourceId } from '@/core/hearing/ids';
import { listenerOfLine, sourceOfLine } from '@/core/hearing/seats';
import { arbitraryPlan } from '@/core/testing/arbitrary-plan';
import { deskData } from '../testing/desk-data';
import { NoPortError, PortTable, type PortKind } from './port-table';

const SIZES = { inputs: 24, outputs: 24, devices: 24, outlets: 24 };

describe('the ports of the audio thread', () => {
  it('send no line what it brings, whatever the plan and by whatever kind of port', () => {
    fc.assert(
      fc.property(arbitraryPlan, fc.infiniteStream(fc.boolean()), (plan, byDevice) => {
        const table = new PortTable(SIZES);
        const lines = plan.seats
          .filter(({ role }) => role !== 'host')
          .map((seat) => {
            const [input, output]: PortKind[] = byDevice.next().value ? ['devices', 'outlets'] : ['inputs', 'outputs'];
            return { seat, input, output, into: table.take(input, sourceOfLine(seat)), out: table.take(output, listenerOfLine(seat)) };
          });
        const compiled = compilePlan(plan);
        const places = table.places(compiled);
        for (const { seat, input, output, into, out } of lines) {
          const [source, listener] = [places[input][into], places[output][out]];
          expect(compiled.sourceIds[source]).toBe(sourceOfLine(seat));
          const heard = [...compiled.source.subarray(compiled.first[listener], compiled.first[listener + 1])];
          expect(heard).not.toContain(source);
        }
      }),
    );
  });

  it('keep whoever has one while others come and go, and never give one to two', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.boolean(), fc.nat({ max: 9 })), { maxLength: 60 }), (moves) => {
        const table = new PortTable({ ...SIZES, devices: 6 });
        const held = new Map<number, SourceId>();
        for (const [takes, n] of moves) {
          if (!takes && held.has(n)) {
            held.delete(n);
            table.free('devices', n);
          } else if (takes && held.size < 6) {
            const id: SourceId = `voice:guest-${n}`;
            const port = table.take('devices', id);
            expect(held.has(port)).toBe(false);
            held.set(port, id);
          } else if (takes) expect(() => table.take('devices', 'voice:more')).toThrow(NoPortError);
        }
      }),
    );
  });

  it('lead nowhere where nothing is plugged in, or the plan does not have it', () => {
    const table = new PortTable(SIZES);
    const { plan } = deskData();
    expect(table.places(compilePlan(plan)).inputs).toEqual(new Array(24).fill(-1));
    table.take('outlets', returnOf('nobody') as ListenerId);
    table.take('devices', voiceOf('maren'));
    expect(table.places(compilePlan(plan)).outlets[0]).toBe(-1);
    expect(table.places(compilePlan(plan)).devices[0]).toBe(compilePlan(plan).sourceIds.indexOf('voice:maren'));
  });
});
