import { chromium } from 'playwright-core';
const B = 'http://127.0.0.1:4990';
export async function open() { const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync','--use-angle=swiftshader','--enable-unsafe-swiftshader'] }); const page = await browser.newPage({ viewport: { width: 1280, height: 800 } }); return { browser, page, B }; }
