import * as z from './zod-parts';

// In a browser, zod would try to compile its checks with `new Function`, which the pages' content policy refuses and
// some browsers report on every page. Set before any schema is made: everybody takes zod from here.
if (typeof process === 'undefined' || !process.versions?.node) z.config({ jitless: true });

export { z };
