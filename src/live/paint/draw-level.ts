import { HOT_DBFS, LEVEL_TARGET, levelShare, SCALE_MARKS } from './level-scale';
import type { Look } from './paint-messages';

const TARGET_STRENGTH = 0.26;
const MARK_STRENGTH = 0.7;

/** Peaks on a scale: where they should be, where they are, where they were highest, and how much room is left above. */
export function drawLevel(context: OffscreenCanvasRenderingContext2D, { width, height, ratio, colours, marked }: Look, peakDb: number, heldDb: number): void {
  const at = (db: number): number => levelShare(db) * width;
  context.globalAlpha = 1;
  context.fillStyle = colours.ground;
  context.fillRect(0, 0, width, height);
  context.globalAlpha = TARGET_STRENGTH;
  context.fillStyle = colours.well;
  context.fillRect(at(LEVEL_TARGET.from), 0, at(LEVEL_TARGET.to) - at(LEVEL_TARGET.from), height);
  context.globalAlpha = 1;
  context.fillStyle = heldDb > HOT_DBFS ? colours.hot : colours.voice;
  context.fillRect(0, ratio, at(peakDb), height - 2 * ratio);
  if (marked) {
    context.globalAlpha = MARK_STRENGTH;
    context.fillStyle = colours.faint;
    for (const db of SCALE_MARKS) context.fillRect(Math.round(at(db)), 0, ratio, height);
    context.globalAlpha = 1;
  }
  if (!Number.isFinite(heldDb)) return;
  context.fillStyle = colours.text;
  context.fillRect(Math.min(width - 2 * ratio, at(heldDb)), 0, 2 * ratio, height);
}
