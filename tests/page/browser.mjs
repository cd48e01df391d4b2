// What the tests of pages share: the program in a folder of its own, a headless browser, a page that is listened to.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, before } from 'node:test';
import { chromium } from 'playwright-core';

export const program = process.env.STASIS_PROGRAM, source = process.env.STASIS_SOURCE;
export const folder = mkdtempSync(join(tmpdir(), 'stasis-page-'));
export const path = (name) => join(folder, name);
export const stasis = (...words) => execFileSync(program, words, { cwd: folder, encoding: 'utf8' });
export let browser;

before(async () => {
  const asRoot = process.getuid() === 0 ? ['--no-sandbox'] : [];
  browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: [...asRoot, '--disable-gpu'] });
});
after(async () => {
  await browser.close();
  rmSync(folder, { recursive: true });
});

/**
 * Opens a page and keeps in `said` everything that it says or asks for.
 * @param options of the browser's page; `prepare` runs before its own scripts; `expects` tells which requests are meant.
 */
export async function open(name, { prepare, expects = () => false, ...options } = {}) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, ...options });
  page.said = [];
  page.on('console', (message) => page.said.push(message.text()));
  page.on('pageerror', (error) => page.said.push(error.message));
  page.on('dialog', (dialog) => { page.said.push('dialog'); dialog.dismiss(); });
  page.on('request', (request) => {
    const url = request.url();
    if (!url.startsWith('data:') && url !== 'file://' + path(name) && !expects(url)) page.said.push(url);
  });
  if (prepare) await page.addInitScript(prepare);
  await page.goto('file://' + path(name));
  await page.evaluate(() => document.fonts.ready);
  return page;
}
