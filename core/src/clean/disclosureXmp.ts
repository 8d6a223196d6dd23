import type { OrderWords } from '@zaddle/document';

const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
/** Text that XML can hold. */
const escaped = (text: string): string => [...text].filter((c) => c === '\n' || c === '\t' || c >= ' ').map((c) => ENTITIES[c] ?? c).join('');

/** IPTC's terms for where a picture comes from: https://cv.iptc.org/newscodes/digitalsourcetype/ */
const SOURCE_TYPE = 'http://cv.iptc.org/newscodes/digitalsourcetype/';
/** Characters that are told: a packet must fit into one segment of a JPEG file, 64 kB, whatever they are. */
const MOST = 8000;

const NO_WORDS: OrderWords = { title: '', creator: '', copyright: '' };
/** A text of Dublin Core that may be in several languages, in one; nothing where it is empty. */
const alternatives = (name: string, text: string): string => (text === '' ? '' : `<dc:${name}><rdf:Alt><rdf:li xml:lang="x-default">${escaped(text)}</rdf:li></rdf:Alt></dc:${name}>`);

/**
 * An XMP packet (ISO 16684-1) that says where a picture comes from: joined from several captures, or composed of places from several, with what
 * was done as its description (Dublin Core), a line a step.
 * @param lines what was replaced or filled; none: only joined
 * @param words what it is called, who made it, whose it is (Dublin Core); empty ones are left out
 */
export function disclosureXmp(lines: readonly string[], words: OrderWords = NO_WORDS): string {
  const type = `${SOURCE_TYPE}${lines.length > 0 ? 'compositeCapture' : 'computationalCapture'}`;
  const told = [alternatives('description', lines.join('\n').slice(0, MOST)), alternatives('title', words.title), alternatives('rights', words.copyright), words.creator ? `<dc:creator><rdf:Seq><rdf:li>${escaped(words.creator)}</rdf:li></rdf:Seq></dc:creator>` : ''].join('');
  return `<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:Iptc4xmpExt="http://iptc.org/std/Iptc4xmpExt/2008-02-29/" xmlns:dc="http://purl.org/dc/elements/1.1/" Iptc4xmpExt:DigitalSourceType="${type}">${told}</rdf:Description></rdf:RDF>`;
}
