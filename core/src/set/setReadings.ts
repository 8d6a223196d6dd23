import type { Point, Triple } from '@zaddle/document';
import { applyMatrix, linearSrgbToLab, WORKING_TO_SRGB } from '../colour/primaries';
import { quantile } from '../image/plane';
import { grade } from '../read/grade';
import type { Look } from './lookOf';

/** A picture of a set. */
export interface SetMember {
  readonly id: string;
  /** Its room (`roomsOf`); null: nobody knows. */
  readonly room: string | null;
  readonly look: Look;
}

/** In what a picture differs from others of its set. */
export interface SetReading {
  readonly kind: 'brightness' | 'paint' | 'view' | 'leaning' | 'ratio';
  readonly value: number;
  readonly unit: string;
  readonly state: 'check' | 'bad';
  /** What it means, against what. */
  readonly text: string;
  /** What would bring it towards the others. */
  readonly proposal: string;
  /** Where it shows, in shares of width and height; null: all over. */
  readonly at: Point | null;
}

/** What a set has in common: what its pictures are brought towards. */
export interface Common {
  readonly light: number;
  readonly paint: Triple | null;
}

/** From where on a difference is looked at, and seen by anybody. */
const LIGHT = [0.35, 0.8] as const;
const PAINT = [3, 7] as const;
/** Different rooms may be painted differently: more is allowed between them. */
const OTHER_ROOM = 2;
const VIEW = [1, 2] as const;
const LEANING = [0.5, 2.5] as const;
const RATIO = 0.02;

const median = (values: readonly number[]): number => quantile(values, 0.5);
/** The middle one, or of an even number the mean of the two in the middle: of two, neither is right. */
function middle(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2;
}

/** What pictures have in common, each channel by itself. @param looks at least one */
export function commonOf(looks: readonly Look[]): Common {
  const paints = looks.flatMap(({ paint }) => (paint ? [paint] : []));
  return { light: middle(looks.map(({ light }) => light)), paint: paints.length === 0 ? null : ([0, 1, 2].map((c) => 2 ** middle(paints.map((p) => Math.log2(p[c])))) as unknown as Triple) };
}

/** Difference of two paints in CIELAB, lightness aside, as they look when they are light. */
export function paintDifference(a: Triple, b: Triple): number {
  const [p, q] = [a, b].map((paint) => linearSrgbToLab(applyMatrix(WORKING_TO_SRGB, paint.map((v) => v * 0.6) as unknown as Triple)));
  return Math.hypot(p[1] - q[1], p[2] - q[2]);
}

/** The pictures that each is held against: others of its room, or where it is the only one of its room, all. */
export function companions(members: readonly SetMember[], { room }: SetMember): { readonly of: readonly SetMember[]; readonly room: boolean } {
  const same = room === null ? [] : members.filter((each) => each.room === room);
  return same.length > 1 ? { of: same, room: true } : { of: members, room: false };
}

const signed = (value: number, digits: number): string => `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(digits)}`;

function lightReading({ look }: SetMember, common: Common, whose: string, slack: number): SetReading[] {
  const off = look.light - common.light;
  const state = grade(Math.abs(off), LIGHT[0] * slack, LIGHT[1] * slack);
  return state === 'good' ? [] : [{ kind: 'brightness', value: off, unit: 'stops', state, text: `${Math.abs(off).toFixed(1)} stops ${off < 0 ? 'darker' : 'brighter'} than ${whose}`, proposal: 'Bring together (t) moves its level', at: look.places?.light ?? null }];
}

function paintReading({ look }: SetMember, common: Common, whose: string, slack: number): SetReading[] {
  if (!look.paint || !common.paint) return [];
  const value = paintDifference(look.paint, common.paint);
  const state = grade(value, PAINT[0] * slack, PAINT[1] * slack);
  const warmer = Math.log2(look.paint[0] / look.paint[2]) > Math.log2(common.paint[0] / common.paint[2]);
  return state === 'good' ? [] : [{ kind: 'paint', value, unit: 'ΔE', state, text: `pale walls ${warmer ? 'warmer' : 'cooler'} by ΔE ${value.toFixed(0)} than ${whose}`, proposal: 'Bring together (t) moves its white', at: look.places?.paint ?? null }];
}

function viewReading(member: SetMember, of: readonly SetMember[], whose: string): SetReading[] {
  const others = of.filter(({ id, look }) => id !== member.id && look.view !== null).map(({ look }) => look.view!);
  if (member.look.view === null || others.length === 0) return [];
  const off = member.look.view - median(others);
  const state = grade(Math.abs(off), VIEW[0], VIEW[1]);
  return state === 'good' ? [] : [{ kind: 'view', value: off, unit: 'stops', state, text: `view ${signed(off, 1)} stops against the room, as compared with ${whose}`, proposal: `at the desk (o), the view ${off > 0 ? 'darker' : 'brighter'} by ${Math.abs(off).toFixed(1)} stops`, at: member.look.places?.view ?? null }];
}

function leaningSetReading(member: SetMember, all: readonly SetMember[]): SetReading[] {
  const { leaning } = member.look;
  const plumb = all.filter(({ id, look }) => id !== member.id && look.leaning !== null && look.leaning <= LEANING[0]).length;
  if (leaning === null || plumb === 0 || 2 * plumb < all.length - 1) return [];
  const state = grade(leaning, LEANING[0], LEANING[1]);
  return state === 'good' ? [] : [{ kind: 'leaning', value: leaning, unit: '°', state, text: `verticals lean ${leaning.toFixed(1)}° here, and are plumb in most others`, proposal: 'at the desk (o), straighten as Framing proposes', at: member.look.places?.leaning ?? null }];
}

function ratioReading(member: SetMember, all: readonly SetMember[]): SetReading[] {
  const lying = ({ look: { ratio } }: SetMember): number => Math.max(ratio, 1 / ratio);
  const usual = median(all.map(lying));
  const off = Math.abs(lying(member) / usual - 1);
  return off <= RATIO || all.filter((each) => Math.abs(lying(each) / usual - 1) <= RATIO).length * 2 <= all.length ? [] : [{ kind: 'ratio', value: lying(member), unit: '', state: 'check', text: `cropped to ${lying(member).toFixed(2)} : 1, most others to ${usual.toFixed(2)} : 1`, proposal: `at the desk (o), crop to ${usual.toFixed(2)} : 1`, at: null }];
}

/** In what each picture differs from the others, worst first; by its id. */
export function setReadings(members: readonly SetMember[]): ReadonlyMap<string, readonly SetReading[]> {
  return new Map(members.map((member) => {
    const { of, room } = companions(members, member);
    if (of.length < 2) return [member.id, []];
    const common = commonOf(of.map(({ look }) => look));
    const whose = room ? `the others of ${member.room}` : 'most of the shoot';
    const slack = room ? 1 : OTHER_ROOM;
    const found = [...lightReading(member, common, whose, slack), ...paintReading(member, common, whose, slack), ...viewReading(member, of, whose), ...leaningSetReading(member, members), ...ratioReading(member, members)];
    return [member.id, found.sort((a, b) => Number(b.state === 'bad') - Number(a.state === 'bad'))];
  }));
}
