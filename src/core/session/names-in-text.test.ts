import { describe, expect, it } from 'vitest';
import { calledNames, namesInText } from './names-in-text';

describe('names in a text', () => {
  it('come one a line, with commas, or both, and none of them twice', () => {
    expect(namesInText('Runa Velde, Ilyas  Corm\r\nBettina Oak;\n\n Runa Velde ,')).toEqual(['Runa Velde', 'Ilyas Corm', 'Bettina Oak']);
    expect(namesInText(' \n,;')).toEqual([]);
    expect(namesInText('x'.repeat(200))[0]).toHaveLength(60);
  });

  it('are called by the first, or whole where that would be two', () => {
    expect(calledNames(['Runa Velde', 'Guest 1', 'Guest 2', 'Ilyas'], ['Runa', 'Maren'])).toEqual(['Runa Velde', 'Guest 1', 'Guest 2', 'Ilyas']);
    expect(calledNames(['Runa Velde'], [])).toEqual(['Runa']);
    expect(calledNames(['Guest 1'], [])).toEqual(['Guest 1']);
  });
});
