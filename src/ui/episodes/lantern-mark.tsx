import { chakra } from '@chakra-ui/react';

const Svg = chakra('svg');

/** The product's mark: a ship's lantern with its light off centre, leaning into the wind. */
export function LanternMark({ size = 46 }: { size?: number }) {
  return (
    <Svg width={size} height={size} viewBox="0 0 48 48" aria-hidden color="soft">
      <g transform="rotate(-8 24 24)" fill="none" stroke="currentColor" strokeWidth="2.2" strokeLinecap="round">
        <path d="M16 8c2-5 14-5 16 0" />
        <path d="M14 13h20M16 13l-3 22h22l-3-22M12 39h24" />
        <circle cx="24" cy="25" r="6.5" fill="#ffb54a" stroke="none" />
        <circle cx="24" cy="25" r="2.6" fill="#ffe2ad" stroke="none" />
      </g>
    </Svg>
  );
}
