import { expect, it } from 'vitest';
import { compileKernel } from '../../../scripts/build-kernel.mjs';
import { KERNEL_BASE64 } from './kernel-bytes';

it('the committed kernel is what its source compiles to; run "npm run kernel" when this fails', async () => {
  expect(KERNEL_BASE64).toBe(await compileKernel());
});
