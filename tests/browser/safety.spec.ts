import { blocksOf, openAt, settled, textOf } from './desk';
import { expect, KivrenServer, test } from './server';

test('text typed while the server is down survives closing the tab and a restart', async ({ browser }) => {
  const server = new KivrenServer();
  await server.start();
  try {
    const made = await server.post<{ id: string }>('/manuals', { title: 'Offline' });
    const context = await browser.newContext();
    let page = await context.newPage();
    const division = await openAt(page, server, made.id, 'First chapter');
    await page.locator('.manuscript').focus();
    await page.keyboard.type('Typed online. ');
    await settled(page);
    await server.kill();
    await page.keyboard.type('Typed offline.');
    await expect(page.locator('[data-save]')).toHaveAttribute('data-save', 'offline');
    await page.close();
    await server.start();
    page = await context.newPage();
    await page.goto(`${server.url}/#/${made.id}/${division.id}`);
    await expect(page.locator('.manuscript')).toContainText('Typed online. Typed offline.');
    await settled(page);
    expect(textOf((await blocksOf(server, made.id, division.id))[0])).toBe('Typed online. Typed offline.');
    await context.close();
  } finally {
    await server.kill();
  }
});

test('an edit while the server is away goes up by itself when it is back', async ({ page }) => {
  const server = new KivrenServer();
  await server.start();
  try {
    const made = await server.post<{ id: string }>('/manuals', { title: 'Away' });
    const division = await openAt(page, server, made.id, 'First chapter');
    await server.kill();
    await page.locator('.manuscript').focus();
    await page.keyboard.type('Nobody there.');
    await expect(page.locator('[data-save]')).toHaveAttribute('data-save', 'offline');
    await page.keyboard.press('Enter');
    await page.keyboard.type('Still nobody.');
    await server.start();
    await expect(page.locator('[data-save]')).toHaveAttribute('data-save', 'saved', { timeout: 30_000 });
    expect((await blocksOf(server, made.id, division.id)).map(textOf)).toEqual(['Nobody there.', 'Still nobody.']);
  } finally {
    await server.kill();
  }
});

for (const [button, expected] of [
  ['Keep mine', ['Mine.']],
  ['Take theirs', ['Theirs.']],
  ['Both', ['Theirs.', 'Mine.']],
] as const)
  test(`a block changed in two places shows both texts; “${button}” ends it, and typing elsewhere goes on`, async ({ page, server }) => {
    const made = await server.post<{ id: string }>('/manuals', { title: 'Two places' });
    const division = await openAt(page, server, made.id, 'First chapter');
    const body = (await blocksOf(server, made.id, division.id))[0]!;
    await page.locator('.manuscript').focus();
    // The save is held back until another writer's has gone in.
    let release = () => {};
    const held = new Promise<void>((resolve) => (release = resolve));
    await page.route('**/batches', async (route) => {
      await held;
      await route.continue();
    });
    await page.keyboard.type('Mine.');
    await server.post(`/manuals/${made.id}/batches`, {
      id: crypto.randomUUID(),
      writer: 'another',
      label: 'Typing',
      divisions: null,
      joined: null,
      blocks: [{ id: body.attrs.id, division: division.id, basedOn: 1, body: JSON.stringify({ ...body, content: [{ type: 'text', text: 'Theirs.' }] }), after: null, deleted: false }],
    });
    release();
    const conflict = page.getByRole('group', { name: 'Changed in two places' });
    await expect(conflict).toContainText('Mine.');
    await expect(conflict).toContainText('Theirs.');
    await expect(page.locator('[data-save]')).toHaveAttribute('data-save', 'conflict');
    await page.unroute('**/batches');
    await conflict.getByRole('button', { name: button }).click();
    await settled(page);
    expect((await blocksOf(server, made.id, division.id)).map(textOf)).toEqual(expected);
    await page.locator('.manuscript').focus();
    await page.keyboard.press('Control+End');
    await page.keyboard.press('Enter');
    await page.keyboard.type('Elsewhere.');
    await settled(page);
    expect((await blocksOf(server, made.id, division.id)).map(textOf)).toContain('Elsewhere.');
  });

test('another writer’s words come in while one types, and undo does not touch them', async ({ page, browser, server }) => {
  const made = await server.post<{ id: string }>('/manuals', { title: 'Two writers' });
  await openAt(page, server, made.id, 'First chapter');
  const other = await (await browser.newContext()).newPage();
  await openAt(other, server, made.id, 'First chapter');
  await page.locator('.manuscript').focus();
  await page.keyboard.type('By one.');
  await settled(page);
  await expect(other.locator('.manuscript')).toContainText('By one.');
  await other.locator('.manuscript').focus();
  await other.keyboard.press('Control+End');
  await other.keyboard.press('Enter');
  await other.keyboard.type('By two.');
  await settled(other);
  await expect(page.locator('.manuscript')).toContainText('By two.');
  await page.locator('.manuscript').focus();
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(page.locator('.manuscript')).toContainText('By two.');
  await expect(page.locator('.manuscript')).not.toContainText('By one.');
  await other.context().close();
});
