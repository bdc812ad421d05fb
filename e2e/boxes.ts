import { expect, type Page } from '@playwright/test';

/** Fails where a text of the page is cut off or a label of a chart lies over another: every box is measured. */
export async function expectReadable(page: Page, where: string): Promise<void> {
  // A chart that is just being drawn anew at another width is given the time for it.
  await expect.poll(async () => [where, ...(await page.evaluate(unreadable))]).toEqual([where]);
}

/** Texts that cannot be read, and why. */
function unreadable(): string[] {
  const told = (element: Element) => element.textContent.trim().replace(/\s+/g, ' ').slice(0, 60);
  const found: string[] = [];
  for (const svg of document.querySelectorAll('svg')) {
    const frame = svg.getBoundingClientRect();
    const labels = [...svg.querySelectorAll('text')]
      .map((text) => ({ says: told(text), box: text.getBoundingClientRect() }))
      .filter(({ says, box }) => says !== '' && box.width > 0);
    labels.forEach(({ says, box }, i) => {
      if (box.left < frame.left - 1 || box.right > frame.right + 1) found.push(`cut off: ${says}`);
      for (const { says: other, box: beside } of labels.slice(i + 1)) {
        const width = Math.min(box.right, beside.right) - Math.max(box.left, beside.left);
        const height = Math.min(box.bottom, beside.bottom) - Math.max(box.top, beside.top);
        // The line box of a text is taller than its letters.
        if (width > 2 && height > 6) found.push(`over each other: ${says} | ${other}`);
      }
    });
  }
  for (const element of document.querySelectorAll<HTMLElement>(
    'h1, h2, th, td, dt, dd, p, li, label, button, a, span',
  )) {
    const hasText = [...element.childNodes].some(
      (node) => node.nodeType === Node.TEXT_NODE && node.textContent!.trim() !== '',
    );
    if (!hasText || element.clientWidth === 0 || element.closest('.sr-only')) continue;
    const { overflowX, textOverflow } = getComputedStyle(element);
    // What ends in dots says so, and is told whole elsewhere.
    if (overflowX !== 'visible' && overflowX !== 'auto' && textOverflow !== 'ellipsis')
      if (element.scrollWidth > element.clientWidth + 1) found.push(`cut off: ${told(element)}`);
  }
  return found;
}
