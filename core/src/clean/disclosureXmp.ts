const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
/** Text that XML can hold. */
const escaped = (text: string): string => [...text].filter((c) => c === '\n' || c === '\t' || c >= ' ').map((c) => ENTITIES[c] ?? c).join('');

/** IPTC's terms for where a picture comes from: https://cv.iptc.org/newscodes/digitalsourcetype/ */
const SOURCE_TYPE = 'http://cv.iptc.org/newscodes/digitalsourcetype/';

/**
 * An XMP packet (ISO 16684-1) that says where a picture comes from: joined from several captures, or composed of places from several, with what
 * was done as its history, a line a step.
 * @param lines what was replaced or filled; none: only joined
 */
export function disclosureXmp(lines: readonly string[]): string {
  const type = `${SOURCE_TYPE}${lines.length > 0 ? 'compositeCapture' : 'computationalCapture'}`;
  const steps = lines.map((line) => `<rdf:li rdf:parseType="Resource"><stEvt:action>edited</stEvt:action><stEvt:softwareAgent>Zaddle</stEvt:softwareAgent><stEvt:parameters>${escaped(line)}</stEvt:parameters></rdf:li>`).join('');
  const history = lines.length > 0 ? `<xmpMM:History><rdf:Seq>${steps}</rdf:Seq></xmpMM:History>` : '';
  return `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:Iptc4xmpExt="http://iptc.org/std/Iptc4xmpExt/2008-02-29/" xmlns:xmpMM="http://ns.adobe.com/xap/1.0/mm/" xmlns:stEvt="http://ns.adobe.com/xap/1.0/sType/ResourceEvent#" Iptc4xmpExt:DigitalSourceType="${type}">${history}</rdf:Description></rdf:RDF></x:xmpmeta>`;
}
