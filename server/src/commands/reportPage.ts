import { relative } from 'node:path';
import { handGain } from '@zaddle/core/set/handGain';
import type { Reading } from '@zaddle/core/read/readings';

/** A shot as the page tells it. */
export interface ReportedShot {
  readonly name: string;
  readonly frames: number;
  /** Files that were written. */
  readonly files: readonly string[];
  readonly readings: readonly Reading[];
}

/** What a run did, as the page tells it. */
export interface Reported {
  readonly title: string;
  readonly shots: readonly ReportedShot[];
  readonly failed: readonly { readonly name: string; readonly files: readonly string[]; readonly why: string }[];
  readonly rejected: readonly { readonly file: string; readonly why: string }[];
  readonly ms: number;
  /** Folder of the files that were written, and that of the page. */
  readonly out: string;
  readonly beside: string;
}

const escaped = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
/** Kinds of files that a browser shows. */
const SHOWN = /\.(jpe?g|png|webp|avif)$/i;
const count = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;
const duration = (ms: number): string => (ms < 90_000 ? `${Math.round(ms / 1000)} s` : `${Math.round(ms / 60_000)} min`);

const STYLE = `body{margin:0 auto;max-width:1100px;padding:24px;font:15px/1.5 system-ui,sans-serif;color:#1d1d1d;background:#f3f3f3}h1,h2{font-weight:500}article{display:grid;grid-template-columns:360px 1fr;gap:20px;padding:14px 0;border-top:1px solid #ccc}img{width:100%;background:#ddd;display:block}ul{margin:4px 0 8px;padding-left:20px}.bad{color:#a11d0e}.soft{color:#5a5a5a}h3{margin:0 0 4px}`;

const href = ({ out, beside }: Reported, file: string): string => relative(beside, `${out}/${file}`).split(/[\\/]/).map(encodeURIComponent).join('/');

function article(report: Reported, { name, frames, files, readings }: ReportedShot): string {
  const picture = files.find((file) => SHOWN.test(file));
  const said = readings.filter(({ state }) => state !== 'good');
  return `<article id="${escaped(name)}"><div>${picture ? `<a href="${href(report, picture)}"><img src="${href(report, picture)}" alt="${escaped(name)}" loading="lazy"></a>` : ''}</div><div><h3>${escaped(name)}</h3>
<p class="soft">${count(frames, 'frame', 'frames')}. ${files.map((file) => `<a href="${href(report, file)}">${escaped(file)}</a>`).join(', ')}</p>
${said.length === 0 ? '<p>Nothing to look at.</p>' : `<ul>${said.map(({ state, text }) => `<li class="${state}">${escaped(text)}</li>`).join('')}</ul>`}</div></article>`;
}

/**
 * A page (HTML, with no scripts and nothing from elsewhere) of what a run made: shots where a hand would gain most first, what could
 * not be made, and files that were no frames, each with its reason. Pictures are shown from where they were written.
 */
export function reportPage(report: Reported): string {
  const { title, shots, failed, rejected, ms } = report;
  const weighed = shots.map((shot) => ({ shot, gain: handGain(shot.readings, []) })).sort((a, b) => b.gain - a.gain);
  const [worth, fine] = [weighed.filter(({ gain }) => gain > 0), weighed.filter(({ gain }) => gain <= 0)];
  const list = (items: readonly string[]): string => `<ul>${items.map((item) => `<li>${item}</li>`).join('')}</ul>`;
  const summary = [count(shots.length, 'shot delivered', 'shots delivered'), `${worth.length} may deserve a hand`, ...(failed.length > 0 ? [count(failed.length, 'shot could not be made', 'shots could not be made')] : []), ...(rejected.length > 0 ? [count(rejected.length, 'file rejected', 'files rejected')] : []), duration(ms)];
  const parts = [
    failed.length > 0 ? `<h2 class="bad">Not made</h2>${list(failed.map(({ name, files, why }) => `<b>${escaped(name)}</b>: ${escaped(why)} <span class="soft">(${escaped(files.join(', '))})</span>`))}` : '',
    worth.length > 0 ? `<h2>May deserve a hand</h2>${worth.map(({ shot }) => article(report, shot)).join('\n')}` : '',
    fine.length > 0 ? `<h2>${worth.length > 0 ? 'As good as they get by themselves' : 'Delivered'}</h2>${fine.map(({ shot }) => article(report, shot)).join('\n')}` : '',
    rejected.length > 0 ? `<h2>Rejected files</h2>${list(rejected.map(({ file, why }) => `<b>${escaped(file)}</b>: ${escaped(why)}`))}` : '',
  ];
  return `<!doctype html>\n<html lang="en"><head><meta charset="utf-8"><title>${escaped(title)}</title><meta name="viewport" content="width=device-width"><style>${STYLE}</style></head><body>\n<h1>${escaped(title)}</h1>\n<p>${summary.join(' · ')}</p>\n${parts.filter(Boolean).join('\n')}\n</body></html>\n`;
}
