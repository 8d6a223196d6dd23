import { expect, test } from 'vitest';
import type { FillPass, Mix, Pass, SourcePass } from '@zaddle/document';
import { changedPlaces, disclosure } from '../src/clean/changedPlaces';
import { withInset } from '../src/clean/cleanUpBundle';
import { disclosureXmp } from '../src/clean/disclosureXmp';

const base = (id: string) => ({ id, name: id, within: null, why: '', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1 }) as const;
const light: SourcePass = { ...base('u'), kind: 'light', source: { kind: 'frame', frame: 'f' }, alignment: null };
const inset: SourcePass = { ...light, id: 'i', kind: 'inset', source: { kind: 'frame', frame: 'g' }, why: 'a stand', mask: [{ id: 'm', kind: 'outline', join: 'add', inverted: false, softness: 0, rings: [([[0.8, 0.05], [0.9, 0.05], [0.9, 0.15]] as const).map((at) => ({ at, before: null, after: null }))] }] };
const fill: FillPass = { ...base('p'), kind: 'fill', tone: [0, 0, 0], ramp: null, around: true, mask: [{ id: 's', kind: 'spot', join: 'add', inverted: false, at: [0.5, 0.33], rim: [0.6, 0.33], ratio: 0.5, softness: 0 }] };
const joinery: FillPass = { ...fill, id: 'joinery', mask: [{ id: 'j', kind: 'same', join: 'add', inverted: false, pass: 'u' }] };
const mixOf = (passes: readonly Pass[]): Mix => ({ reference: 'f', frames: { f: { width: 1200, height: 800 } }, passes }) as unknown as Mix;

test('what was taken from another frame or filled is told with its place; light, joinery and what is muted are not', () => {
  const places = changedPlaces(mixOf([light, joinery, fill, ...withInset([], inset)]));
  expect(places.map(({ pass, what, from, where }) => [pass, what, from, where])).toEqual([['p', 'filled', null, 'middle'], ['i', 'replaced', 'g', 'upper right']]);
  expect(places[1].rings).toEqual([[[960, 60], [1080, 60], [1080, 180]]]);
  // A round place: its half-axes are 120 and 60 pixels.
  const [xs, ys] = [places[0].rings[0].map(([x]) => x), places[0].rings[0].map(([, y]) => y)];
  expect([Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)].map(Math.round)).toEqual([480, 720, 336, 456]);
  expect(changedPlaces(mixOf([light, { ...fill, on: false }, { ...inset, opacity: 0 }]))).toEqual([]);
});

test('the text for a client numbers them and names frames; it is empty where nothing was changed', () => {
  const lines = disclosure(changedPlaces(mixOf([light, fill, { ...inset, why: 'a\n stand' }])), (id) => `${id.toUpperCase()}.JPG`);
  expect(lines).toEqual(['1. Middle: filled with tones of the picture itself.', '2. Upper right: replaced by the same place in G.JPG, another exposure of this view (a stand).']);
  expect(disclosure([], () => '')).toEqual([]);
});

test('XMP says joined or composed by IPTC’s terms, and holds any text without breaking', () => {
  expect(disclosureXmp([])).toContain('digitalsourcetype/computationalCapture"');
  expect(disclosureXmp([])).not.toContain('description');
  const packet = disclosureXmp(['1. A <stand> & "cable"\u0000', '2. More']);
  expect(packet).toContain('digitalsourcetype/compositeCapture"');
  expect(packet).toContain('1. A &lt;stand&gt; &amp; &quot;cable&quot;\n2. More</rdf:li>');
  // One segment of a JPEG file holds it, however much was done.
  expect(disclosureXmp(Array.from({ length: 5000 }, () => '"'.repeat(300))).length).toBeLessThan(60_000);
});
