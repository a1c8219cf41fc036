import { expect, test } from './host';
import { makeEpisode } from './guests';

test('the board is arranged by keyboard, sounds share a key, hold, and give way; a controller plays; boards are kept', async ({ host, page }) => {
  // A new episode begins with the board of the one before: this one gets a board of its own.
  await makeEpisode(host, 'Arranging', []);
  await page.getByRole('link', { name: 'Sounds', exact: true }).click();
  const board = page.getByRole('region', { name: 'Board of this episode' });
  await expect(board).toBeVisible();
  for (let left = await board.getByRole('article').count(); left > 0; left--) {
    await board.getByRole('button', { name: /^Remove the pad/ }).first().click();
    await expect(board.getByRole('article')).toHaveCount(left - 1);
  }
  for (const name of ['Ship’s bell', 'Break sting', 'River bed']) {
    await page.getByRole('button', { name: `Put ${name} on a pad` }).click();
    await expect(board.getByRole('article', { name: `Pad ${name}` })).toBeVisible();
  }
  const first = board.getByRole('article').first();
  await board.getByRole('button', { name: 'Move the pad River bed', exact: true }).focus();
  await page.keyboard.press('Space');
  for (const place of ['3', '2', '1']) {
    await expect(page.getByText(`River bed is over place ${place} of 3.`)).toHaveCount(1);
    await page.keyboard.press(place === '1' ? 'Shift' : 'ArrowUp');
  }
  await page.keyboard.press('Space');
  await expect(first).toHaveAttribute('aria-label', 'Pad River bed');
  await page.reload();
  await expect(first).toHaveAttribute('aria-label', 'Pad River bed');

  // One key for two: they start together.
  await board.getByLabel('Key of Ship’s bell').press('7');
  await board.getByLabel('Key of Break sting').press('7');
  await expect(board.getByText('7 starts Break sting and Ship’s bell together, on the same sample.')).toBeVisible();
  await board.getByLabel('How River bed plays').selectOption('hold');
  await board.getByLabel('Key of River bed').press('8');
  await expect(board.getByLabel('Key of River bed')).toHaveValue('8');

  await page.getByLabel('Name for this board').fill('Two and a bed');
  await page.getByRole('button', { name: 'Save this board' }).click();
  await expect(board.getByText('“Two and a bed” is saved for this show.')).toBeVisible();
  await board.getByRole('button', { name: 'Remove the pad Break sting' }).click();
  await expect(board.getByRole('article')).toHaveCount(2);
  await board.getByRole('button', { name: 'Use the board Two and a bed' }).click();
  await expect(board.getByRole('article')).toHaveCount(3);

  await host.startCall();
  const midi = page.getByRole('region', { name: 'Controllers' });
  await midi.getByRole('button', { name: 'Practice controller' }).click();
  await midi.getByLabel('What a controller should do').selectOption({ label: 'pad Ship’s bell' });
  await midi.getByRole('button', { name: 'Learn' }).click();
  await midi.getByRole('button', { name: 'Note 38', exact: true }).click();
  await expect(midi.getByText('note 38: pad Ship’s bell')).toBeVisible();
  await midi.getByLabel('What a controller should do').selectOption({ label: 'gain of Sounds' });
  await midi.getByRole('button', { name: 'Learn' }).click();
  await midi.getByRole('slider', { name: 'Controller 20' }).press('ArrowLeft');
  await expect(midi.getByText('controller 20: gain of Sounds')).toBeVisible();
  await midi.getByRole('slider', { name: 'Controller 20' }).press('Home');
  await midi.getByRole('button', { name: 'Note 38', exact: true }).click();
  await page.getByRole('link', { name: 'Live', exact: true }).click();
  await expect(host.pad('Ship’s bell')).toHaveAttribute('aria-pressed', 'true');
  await expect(host.lane('Sounds')).toContainText('−60 dB');
  await page.keyboard.press('x');
  await expect(host.pad('Ship’s bell')).toHaveAttribute('aria-pressed', 'false');

  await page.keyboard.press('7');
  await expect(host.pad('Ship’s bell')).toHaveAttribute('aria-pressed', 'true');
  await expect(host.pad('Break sting')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('x');
  await page.keyboard.down('8');
  await expect(host.pad('River bed')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.up('8');
  await expect(host.pad('River bed')).toHaveAttribute('aria-pressed', 'false');
  await host.endCall();
});

test('a sound is cut, faded and looped on its waveform without touching the file, and undone', async ({ host, page }) => {
  await host.openDesk();
  await page.getByRole('link', { name: 'Sounds', exact: true }).click();
  const library = page.getByRole('region', { name: 'Library' });
  await library.getByRole('button', { name: 'Edit Opening theme' }).click();
  const editor = page.getByRole('dialog', { name: 'Opening theme' });
  await editor.getByText('Points snap to zero crossings').click();
  const ends = editor.getByLabel('Ends at, s');
  await editor.getByRole('button', { name: 'Undo all edits' }).click();
  await ends.fill('7.5');
  await ends.press('Enter');
  await expect(ends).toHaveValue('7.500');
  await editor.getByLabel('Fades out from, s').press('Shift+ArrowDown');
  await expect(editor.getByLabel('Fades out from, s')).toHaveValue('6.500');
  // On the waveform: its end is dragged to the middle of the picture.
  const wave = (await editor.getByRole('img', { name: /points of its edit/ }).boundingBox())!;
  await page.mouse.move(wave.x + (wave.width * 7.5) / 12, wave.y + 150);
  await page.mouse.down();
  await page.mouse.move(wave.x + wave.width / 2, wave.y + 150, { steps: 5 });
  await page.mouse.up();
  await expect(ends).toHaveValue(/^(5\.9|6\.0)/);
  await editor.getByRole('button', { name: 'Set loop points' }).click();
  await expect(editor.getByLabel('Loop from, s')).toHaveValue('0.000');
  // What is kept is what is played from now on; the library says so.
  await editor.getByRole('button', { name: 'Close the editor' }).click();
  await expect(library.getByRole('article', { name: 'Opening theme' })).toContainText(/0:0[56] of 0:12/);
  await library.getByRole('button', { name: 'Edit Opening theme' }).click();
  await expect(editor.getByLabel('Loop to, s')).toBeVisible();
  await ends.fill('3');
  await ends.press('Enter');
  await expect(ends).toHaveValue('3.000');
  const undo = editor.getByRole('button', { name: 'Undo the last change' });
  await undo.click();
  await expect(ends).toHaveValue(/^(5\.9|6\.0)/);
  await editor.getByRole('button', { name: 'Undo all edits' }).click();
  await expect(ends).toHaveValue('12.000');
  await expect(editor.getByLabel('Loop from, s')).toBeHidden();
  await editor.getByRole('button', { name: 'Close the editor' }).click();
  await expect(library.getByRole('article', { name: 'Opening theme' })).not.toContainText('of 0:12');
});
