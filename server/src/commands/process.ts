import { mkdir, readdir, rename, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, dirname, extname, join, resolve } from 'node:path';
import sharp from 'sharp';
import { IDENTITY } from '@zaddle/core/geometry/homography';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { SortedShot } from '@zaddle/core/intake/groupShots';
import { bilinear, mapPlane, type Plane } from '@zaddle/core/image/plane';
import type { PreparedMix } from '@zaddle/core/graph/prepareMix';
import { viewMasks, viewsOf, whereSeen, type SeenView } from '@zaddle/core/graph/viewMasks';
import { readyBytes, readyMix } from '@zaddle/core/graph/readyMix';
import { methodStep } from '@zaddle/core/method/methodStep';
import type { Lacking } from '@zaddle/core/method/placeMethod';
import { applyCommand, CURRENT_VERSION, fileNames, told, type Method, type Mix, type MixDocument, type PartName, type Pass, type Source } from '@zaddle/document';
import { changedPlaces } from '@zaddle/core/clean/changedPlaces';
import { CLEAN_UP } from '@zaddle/core/clean/cleanUpBundle';
import { inOrder } from '@zaddle/core/mix/orderMix';
import { cleanUp } from '@zaddle/core/propose/cleanUp';
import { AUTOMATIC, proposeMix, type Proposal } from '@zaddle/core/propose/proposeMix';
import { setQuality } from '@zaddle/core/read/setQuality';
import { readShot } from '@zaddle/core/read/readShot';
import { outlineRegions } from '@zaddle/core/window/outlineRegions';
import { changedLines } from '../picture/changedLines';
import { newTools } from '../picture/kernels';
import { fileKind, fileOfOrder, namingOf, QUALITY, type MadeFile } from '../picture/orders';
import { PlainError } from '../picture/limits';
import { readCard, type Card } from '../picture/readCard';
import { closeRenderPool } from '../picture/renderPool';
import { methodNamed, type NamedMethod } from './methodNamed';
import { ordersNamed, type WantedOrder } from './orderNamed';
import { UsageError } from './usageError';
import { bytesAPixel } from '../picture/renderPicture';
import { roundedBytes } from '../picture/roundedBytes';
import { maskPicture, renderingOf, withRendering, type Rendering } from '../picture/rendering';
import { reportPage, type ReportedShot } from './reportPage';

export interface ProcessOptions {
  readonly out: string;
  readonly report?: string;
  readonly lens: boolean;
  readonly straighten: boolean;
  /** Takes people and equipment away where another frame has the place clean. */
  readonly clean: boolean;
  /** Delivers linear light, and layers, besides what the orders say. */
  readonly linear: boolean;
  readonly layers: boolean;
  readonly method: string;
  /** 0..100 */
  readonly strength: number;
  /** Names of orders, or files of some, each delivered; left out: full, unless something else is asked for. */
  readonly order?: readonly string[];
}

/** The proposal at part strength: everything above the room's own light is taken in part, bundles as one. What was cleaned up is not half clean. */
function atStrength(mix: Mix, strength: number): Mix {
  const isWhole = (pass: Pass, k: number): boolean => k === 0 || pass.id === CLEAN_UP || pass.within !== null;
  return { ...mix, passes: mix.passes.map((pass, k) => (isWhole(pass, k) ? pass : { ...pass, opacity: (pass.opacity * strength) / 100 })) };
}

/** A proposal with a method on it, less what the command line says not to do. */
function withMethod(proposal: Proposal, method: Method, { strength, straighten, lens }: ProcessOptions): { proposal: Proposal; lacking: readonly Lacking[] } {
  const mix: MixDocument = { version: CURRENT_VERSION, ...proposal.mix };
  const off: PartName[] = [...(straighten ? [] : ['framing' as const]), ...(lens ? [] : ['lens' as const])];
  const { command, lacking } = methodStep(mix, { method, strength: strength / 100, off }, proposal.stance);
  return { proposal: { ...proposal, mix: applyCommand(mix, command).document }, lacking };
}

/** What of a picture is not as the frames that light it show it, for disclosure: an outline each, in reference pixels. */
const changedReport = (mix: Mix): Record<string, unknown>[] => changedPlaces(mix).flatMap(({ what, from, rings, why }) => rings.map((area) => ({ what, from: from ?? 'merge', area, why })));
const now = (): number => performance.now();

const sourceName = (source: Source): string => (!('frame' in source) ? source.kind : source.kind === 'flash' ? `flash of ${source.frame}` : source.kind === 'switched' ? `${source.frame} without ${source.without}` : source.frame);

function frameReport(facts: FrameFacts, proposal: Proposal): Record<string, unknown> {
  const verdict = proposal.verdicts.get(facts.id)!;
  return {
    file: facts.id, role: verdict.role, seconds: facts.seconds, aperture: facts.aperture, iso: facts.iso, flash: facts.flash ?? false, used: verdict.used,
    why: verdict.why, homography: proposal.mix.frames[facts.id]?.homography ?? null, residualPx: verdict.residualPx, residualByPart: verdict.parts,
  };
}

/** Outlines of what is seen through glass, in reference pixels. */
function windowOutlines(views: readonly SeenView[], { mix }: PreparedMix): ReturnType<typeof outlineRegions> {
  const seen = whereSeen(views);
  return seen ? outlineRegions(mapPlane(seen, (v) => (v > 0.5 ? 1 : 0)), mix.frames[mix.reference].width / seen.width) : [];
}

/** A file that was written: its size, and how the picture at full size lies in the reference. */
interface Output {
  readonly order: string;
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly bytes: number;
  readonly geometry: Mix['geometry'];
  readonly full: { readonly width: number; readonly height: number };
}

/** All that is delivered of each picture. Linear light or layers alone are asked for by saying nothing else. */
function wantedOrders({ order, linear, layers }: ProcessOptions): readonly string[] {
  const more = [...(linear ? ['linear'] : []), ...(layers ? ['layers'] : [])];
  const named = order ?? (more.length > 0 ? [] : ['full']);
  return [...new Set([...named, ...more])];
}

/** What a shot goes by. */
interface ShotName {
  readonly name: string;
  /** From 1, as on the card. */
  readonly number: number;
  /** The card's folder. */
  readonly property: string;
  /** Files that are written already, in lower case. */
  readonly taken: Set<string>;
}

/** Names of files, and titles of pictures, by orders. */
function namesOf({ name, number, property, taken }: ShotName, { takenAt, name: frame }: FrameFacts, wanted: readonly WantedOrder[]): { readonly file: string; readonly title: string }[] {
  const picture = { property, room: name, number, date: new Date(takenAt ?? 0).toISOString().slice(0, 10), frame };
  const files = fileNames([picture], wanted.map(({ name: order, order: asked }) => namingOf(order, asked, wanted.length === 1)), taken);
  return wanted.map(({ name: output, order }, k) => ({ file: files[k][0], title: told(order.words.title, picture, { output, client: order.client }) }));
}

/** Writes where glass was found beside the report: 8 bit, in reference pixels; null where there is none. @param backlit on the guide: what stands before it and is shown with the view */
async function writeGlass(card: Card, prepared: PreparedMix, backlit: Plane, name: string, report: string): Promise<string | null> {
  const views = viewsOf(prepared);
  if (views.length === 0) return null;
  const { mix } = prepared;
  const { width, height } = mix.frames[mix.reference];
  const straight = { ...prepared, mix: { ...mix, geometry: IDENTITY, width, height } };
  const work = async (rendering: Rendering): Promise<{ readonly data: Uint16Array }> => {
    const data = new Uint16Array(width * height);
    for (const view of views) (await maskPicture(rendering, view)).data.forEach((v, i) => (data[i] = Math.max(data[i], v)));
    return { data };
  };
  const size = { width, height };
  const { data } = await (card.shelf ? work(renderingOf(straight, card.shelf, size)) : withRendering(straight, card.openable, { size, kind: 'mask', folder: tmpdir() }, work));
  const file = `${basename(report, extname(report))}-${name}-glass.png`;
  const [sx, sy] = [backlit.width / width, backlit.height / height];
  for (let i = 0; i < data.length; i++) if (data[i] > 0) data[i] *= 1 - bilinear(backlit, ((i % width) + 0.5) * sx - 0.5, (Math.floor(i / width) + 0.5) * sy - 0.5);
  await sharp(roundedBytes(data), { raw: { width, height, channels: 1 } }).toColourspace('b-w').png({ compressionLevel: 4 }).toFile(join(dirname(report), file));
  return file;
}

/** A shot's part of the report, and what the page tells of it. */
interface ShotDone {
  readonly report: Record<string, unknown>;
  readonly told: ReportedShot;
}

/** Makes, writes and reports one shot's picture. */
async function processShot(card: Card, shot: SortedShot, called: ShotName, named: NamedMethod | null, wanted: readonly WantedOrder[], options: ProcessOptions): Promise<ShotDone> {
  const started = now();
  const method = named?.method ?? null;
  const members = await Promise.all(shot.frames.map(async (id) => ({ facts: card.facts.find((f) => f.id === id)!, proxy: await card.proxy(id) })));
  const first = proposeMix(card.shelf ?? newTools(64_000_000), members, { ...AUTOMATIC, lens: options.lens ? 'find' : 'off', straighten: options.straighten }, now);
  const proxies = new Map(members.map(({ facts, proxy }) => [facts.id, proxy]));
  // The automatic start has no strength of its own: it is taken in part. A method's is its own.
  const atWish = (mix: Mix): Mix => (method ? mix : atStrength(mix, options.strength));
  const made = ({ mix, findings }: Proposal) => readyMix(newTools(readyBytes(mix)), atWish(mix), findings, proxies, (level, ready) => ({ picture: level.picture(ready), views: viewMasks(level, ready) }), named?.tables);
  const proposed = now();
  const start = made(first);
  const cleaned = options.clean ? cleanUp(first, start.result.picture) : first;
  const given = method && withMethod(cleaned, method, options);
  const proposal = given?.proposal ?? cleaned;
  const { prepared, result: { picture, views } } = proposal === first ? start : made(proposal);
  const readings = [...readShot(proposal, picture, views), ...setQuality(members.filter((m) => m.facts.twinOf === null).map(({ facts }) => ({ facts, stats: card.stats(facts.id) })))];
  const prepareEnd = now();
  const meta = { description: `Joined from ${[...proposal.verdicts.values()].filter((v) => v.used).length} frames`, changed: changedLines(proposal.mix, (frame) => frame), taken: null };
  const outputs: Output[] = [];
  let renderMs = 0;
  const { name } = called;
  const names = namesOf(called, members.find(({ facts }) => facts.id === proposal.mix.reference)!.facts, wanted);
  for (const [k, { name: orderName, order: asked }] of wanted.entries()) {
    const { file, title } = names[k];
    const order = { ...asked, words: { ...asked.words, title } };
    const mix = inOrder(prepared.mix, order);
    const size = { width: mix.width, height: mix.height };
    const make = (rendering: Rendering): Promise<MadeFile> => {
      const rows: Rendering['rows'] = async (wish) => {
        const since = now();
        const made = await rendering.rows(wish);
        renderMs += now() - since;
        return made;
      };
      return fileOfOrder({ ...rendering, rows }, order, QUALITY, meta, options.out);
    };
    const inItsCrop = { ...prepared, mix };
    const made = card.shelf ? await make(renderingOf(inItsCrop, card.shelf, size)) : await withRendering(inItsCrop, card.openable, { size, kind: fileKind(order).kind, folder: tmpdir() }, make);
    const path = join(options.out, file);
    await (typeof made.file === 'string' ? rename(made.file, path) : writeFile(path, made.file));
    outputs.push({ order: orderName, file, width: made.width, height: made.height, bytes: (await stat(path)).size, geometry: mix.geometry, full: size });
  }
  const ended = now();
  const decode = shot.frames.reduce((sum, id) => sum + (card.decodeMs.get(id) ?? 0), 0);
  const glass = options.report ? await writeGlass(card, prepared, proposal.findings.panes().backlit(), name, options.report) : null;
  const report = {
    name, output: outputs[0].file, reference: proposal.mix.reference, ...outputs[0].full,
    frames: members.map((m) => frameReport(m.facts, proposal)),
    geometry: outputs[0].geometry,
    outputs: outputs.map(({ order, file, width, height, bytes }) => ({ order, file, width, height, bytes })),
    windows: windowOutlines(views, prepared),
    ...(options.report ? { masks: glass ? { glass } : {} } : {}),
    ...(method ? { method: { name: method.name, strength: options.strength, leftAlone: given!.lacking } } : {}),
    readings: readings.map(({ kind, value, unit, state, where, frame }) => ({ kind, value, unit, state, ...(where ? { where } : {}), ...(frame ? { frame } : {}) })),
    changed: changedReport(proposal.mix),
    passes: proposal.mix.passes.map((pass) => ({ kind: pass.kind, name: pass.name, source: 'source' in pass ? sourceName(pass.source) : 'below', why: pass.why })),
    ms: { decode, align: proposal.ms.align, merge: proposal.ms.merge, propose: proposed - started - proposal.ms.align - proposal.ms.merge + (prepareEnd - proposed), render: renderMs, encode: ended - prepareEnd - renderMs, total: ended - started + decode },
  };
  return { report, told: { name, frames: members.length, files: outputs.map(({ file }) => file), readings } };
}

/** Why a folder without any file that could be looked at has none. */
async function whyNothing(folder: string): Promise<string> {
  const links = (await readdir(folder, { withFileTypes: true })).some((entry) => entry.isSymbolicLink());
  return links ? 'it holds links only, which are not followed: copy the pictures themselves into it' : 'it is empty';
}

/**
 * Gathers a card folder and makes a picture of each shot with nobody at the desk.
 * @throws UsageError when the folder cannot be read or holds no picture.
 */
export async function processCard(folder: string, options: ProcessOptions): Promise<Record<string, unknown>> {
  const started = now();
  const info = await stat(folder).catch(() => null);
  if (!info?.isDirectory()) throw new UsageError(`There is no folder ${resolve(folder)}. Give the folder that holds the card's files.`);
  const method = await methodNamed(options.method);
  const wanted = await ordersNamed(wantedOrders(options));
  await mkdir(options.out, { recursive: true });
  const largest = wanted.map(({ order }) => fileKind(order).kind).reduce((a, b) => (bytesAPixel(b) > bytesAPixel(a) ? b : a));
  const card = await readCard(folder, largest);
  if (card.facts.length === 0) throw new UsageError(`No picture could be read in ${resolve(folder)}:\n${card.rejected.map((r) => `  ${r.file}: ${r.why}`).join('\n') || `  ${await whyNothing(folder)}`}`);
  const shots: ShotDone[] = [];
  const failed: { name: string; files: readonly string[]; why: string }[] = [];
  const taken = new Set<string>();
  for (const [index, shot] of card.shots.entries()) {
    const name = `shot-${String(index + 1).padStart(2, '0')}`;
    try {
      shots.push(await processShot(card, shot, { name, number: index + 1, property: basename(resolve(folder)), taken }, method, wanted, options));
      process.stderr.write(`${name}: ${shot.frames.length} frames\n`);
    } catch (error) {
      // One that fails stops nothing: the others are as good as without it.
      const why = error instanceof PlainError ? error.message : `could not be made (${(error as Error).message})`;
      failed.push({ name, files: shot.frames, why });
      process.stderr.write(`${name}: ${why}\n`);
    }
  }
  await card.close();
  await closeRenderPool();
  const report = {
    shots: shots.map((shot) => shot.report),
    failed,
    rejected: card.rejected,
    totals: { frames: card.facts.length, shots: shots.length, ms: now() - started, peakRssMiB: Math.round(process.resourceUsage().maxRSS / 1024) },
  };
  if (options.report) {
    await writeFile(options.report, JSON.stringify(report, null, 1));
    const beside = dirname(resolve(options.report));
    await writeFile(join(beside, `${basename(options.report, extname(options.report))}.html`), reportPage({ title: basename(resolve(folder)), shots: shots.map(({ told }) => told), failed, rejected: card.rejected, ms: report.totals.ms, out: resolve(options.out), beside }));
  }
  return report;
}
