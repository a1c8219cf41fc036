/**
 * What sound has to be multiplied by before it is coded as MP3, so that it comes out as loud as it went in: below 256 kbit/s the
 * encoder takes a little away, against peaks over full scale (LAME's presets for constant rates; measured, both channel counts
 * alike). Under a true-peak ceiling that is not needed.
 */
export const mp3Gain = (kbps: number): number => 1 / (kbps >= 256 ? 1 : kbps >= 192 ? 0.97 : 0.95);
