import { describe, expect, it } from 'vitest';
import { namesInText } from './names-in-text';

describe('names in a text', () => {
  it('come one a line, with commas, or both, and none of them twice', () => {
    expect(namesInText('Runa Velde, Ilyas  Corm\r\nBettina Oak;\n\n Runa Velde ,')).toEqual(['Runa Velde', 'Ilyas Corm', 'Bettina Oak']);
    expect(namesInText(' \n,;')).toEqual([]);
    expect(namesInText('x'.repeat(200))[0]).toHaveLength(60);
  });
});
