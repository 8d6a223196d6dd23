const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
/** Text that XML can hold. */
const escaped = (text: string): string => [...text].filter((c) => c === '\n' || c === '\t' || c >= ' ').map((c) => ENTITIES[c] ?? c).join('');

/** IPTC's terms for where a picture comes from: https://cv.iptc.org/newscodes/digitalsourcetype/ */
const SOURCE_TYPE = 'http://cv.iptc.org/newscodes/digitalsourcetype/';
/** Characters that are told: a packet must fit into one segment of a JPEG file, 64 kB, whatever they are. */
const MOST = 8000;

/**
 * An XMP packet (ISO 16684-1) that says where a picture comes from: joined from several captures, or composed of places from several, with what
 * was done as its description (Dublin Core), a line a step.
 * @param lines what was replaced or filled; none: only joined
 */
export function disclosureXmp(lines: readonly string[]): string {
  const type = `${SOURCE_TYPE}${lines.length > 0 ? 'compositeCapture' : 'computationalCapture'}`;
  const history = lines.length > 0 ? `<dc:description><rdf:Alt><rdf:li xml:lang="x-default">${escaped(lines.join('\n').slice(0, MOST))}</rdf:li></rdf:Alt></dc:description>` : '';
  return `<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:Iptc4xmpExt="http://iptc.org/std/Iptc4xmpExt/2008-02-29/" xmlns:dc="http://purl.org/dc/elements/1.1/" Iptc4xmpExt:DigitalSourceType="${type}">${history}</rdf:Description></rdf:RDF>`;
}
