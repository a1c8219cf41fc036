import { Grid, Text } from '@chakra-ui/react';
import { STRIP_RANGES, type EqualiserBand, type InsertName, type StripSettings } from '@/core/strip/settings';
import { StripSlider } from './strip-slider';
import { BAND_NAMES, decibels, hertz, INSERT_WORDS, milliseconds, ratio } from './words';

interface InsertControlsProps {
  insert: InsertName;
  strip: StripSettings;
  onChange<Name extends InsertName>(insert: Name, change: Partial<StripSettings[Name]>, control: string): void;
}

/** The numbers of one insert. */
export function InsertControls({ insert, strip, onChange }: InsertControlsProps) {
  const of = INSERT_WORDS[insert].name.toLowerCase();
  const { lowCut, gate, equaliser, compressor, deEsser, limiter } = strip;
  const ranges = STRIP_RANGES;
  switch (insert) {
    case 'noise':
      return null;
    case 'lowCut':
      return <StripSlider name="Below" of={of} value={lowCut.hz} range={ranges.lowCut.hz} logarithmic inWords={hertz} onChange={(hz) => onChange('lowCut', { hz }, 'hz')} />;
    case 'gate':
      return (
        <Three>
          <StripSlider name="Opens at" of={of} value={gate.thresholdDb} range={ranges.gate.thresholdDb} inWords={decibels} onChange={(thresholdDb) => onChange('gate', { thresholdDb }, 'threshold')} />
          <StripSlider name="Pauses down by" of={of} value={gate.rangeDb} range={ranges.gate.rangeDb} step={1} inWords={(db) => `${db} dB`} onChange={(rangeDb) => onChange('gate', { rangeDb }, 'range')} />
          <StripSlider name="Stays open" of={of} value={gate.holdMs} range={ranges.gate.holdMs} step={10} inWords={milliseconds} onChange={(holdMs) => onChange('gate', { holdMs }, 'hold')} />
          <StripSlider name="Opens in" of={of} value={gate.attackMs} range={ranges.gate.attackMs} logarithmic inWords={milliseconds} onChange={(attackMs) => onChange('gate', { attackMs }, 'attack')} />
          <StripSlider name="Closes in" of={of} value={gate.releaseMs} range={ranges.gate.releaseMs} logarithmic inWords={milliseconds} onChange={(releaseMs) => onChange('gate', { releaseMs }, 'release')} />
        </Three>
      );
    case 'equaliser':
      return (
        <Grid gap="8px">
          {equaliser.bands.map((band, k) => (
            <Band key={k} place={k} band={band} shelf={k === 0 || k === equaliser.bands.length - 1} onChange={(change, control) => onChange('equaliser', { bands: equaliser.bands.map((one, other) => (other === k ? { ...one, ...change } : one)) }, `${k}:${control}`)} />
          ))}
        </Grid>
      );
    case 'compressor':
      return (
        <Three>
          <StripSlider name="Above" of={of} value={compressor.thresholdDb} range={ranges.compressor.thresholdDb} inWords={decibels} onChange={(thresholdDb) => onChange('compressor', { thresholdDb }, 'threshold')} />
          <StripSlider name="Ratio" of={of} value={compressor.ratio} range={ranges.compressor.ratio} inWords={ratio} onChange={(value) => onChange('compressor', { ratio: value }, 'ratio')} />
          <StripSlider name="All of it louder" of={of} value={compressor.makeUpDb} range={ranges.compressor.makeUpDb} inWords={decibels} onChange={(makeUpDb) => onChange('compressor', { makeUpDb }, 'make-up')} />
          <StripSlider name="Comes down in" of={of} value={compressor.attackMs} range={ranges.compressor.attackMs} logarithmic inWords={milliseconds} onChange={(attackMs) => onChange('compressor', { attackMs }, 'attack')} />
          <StripSlider name="Comes up in" of={of} value={compressor.releaseMs} range={ranges.compressor.releaseMs} logarithmic inWords={milliseconds} onChange={(releaseMs) => onChange('compressor', { releaseMs }, 'release')} />
        </Three>
      );
    case 'deEsser':
      return (
        <Three>
          <StripSlider name="Above" of={of} value={deEsser.hz} range={ranges.deEsser.hz} logarithmic inWords={hertz} onChange={(hz) => onChange('deEsser', { hz }, 'hz')} />
          <StripSlider name="Where it is over the voice’s" of={of} value={deEsser.thresholdDb} range={ranges.deEsser.thresholdDb} inWords={decibels} onChange={(thresholdDb) => onChange('deEsser', { thresholdDb }, 'threshold')} />
          <StripSlider name="At most down by" of={of} value={deEsser.rangeDb} range={ranges.deEsser.rangeDb} step={1} inWords={(db) => `${db} dB`} onChange={(rangeDb) => onChange('deEsser', { rangeDb }, 'range')} />
        </Three>
      );
    case 'limiter':
      return <StripSlider name="Ceiling" of={of} value={limiter.ceilingDb} range={ranges.limiter.ceilingDb} inWords={(db) => `${decibels(db)}TP`} onChange={(ceilingDb) => onChange('limiter', { ceilingDb }, 'ceiling')} />;
  }
}

function Three({ children }: { children: React.ReactNode }) {
  return (
    <Grid templateColumns="repeat(3, minmax(0, 1fr))" columnGap="16px" rowGap="8px">
      {children}
    </Grid>
  );
}

interface BandProps {
  place: number;
  band: EqualiserBand;
  shelf: boolean;
  onChange(change: Partial<EqualiserBand>, control: string): void;
}

function Band({ place, band, shelf, onChange }: BandProps) {
  const name = BAND_NAMES[place];
  const of = `${name.toLowerCase()} band`;
  return (
    <Grid role="group" aria-label={`${name} band`} templateColumns="84px repeat(3, minmax(0, 1fr))" columnGap="16px" alignItems="end">
      <Text fontSize="13.5px" fontWeight="600" pb="4px">
        {name}
      </Text>
      <StripSlider name="By" of={of} value={band.gainDb} range={STRIP_RANGES.band.gainDb} inWords={decibels} onChange={(gainDb) => onChange({ gainDb }, 'gain')} />
      <StripSlider name={shelf ? (place === 0 ? 'Below' : 'Above') : 'Around'} of={of} value={band.hz} range={STRIP_RANGES.band.hz} logarithmic inWords={hertz} onChange={(hz) => onChange({ hz }, 'hz')} />
      {!shelf && <StripSlider name="Narrow" of={of} value={band.q} range={STRIP_RANGES.band.q} step={0.1} inWords={(q) => `Q ${q.toFixed(1)}`} onChange={(q) => onChange({ q }, 'q')} />}
    </Grid>
  );
}
