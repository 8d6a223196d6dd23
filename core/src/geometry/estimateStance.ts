import type { Edge } from './findStraightEdges';
import type { Lens } from './lens';
import { dot, fitStance, missBy, rayOf, seenLine, type SeenLine, type Vector } from './stanceLines';
import type { Size, Stance } from './straightenMap';

/** What edges tell of how the camera stood. */
export interface StanceFound {
  /** Roll and pitch, degrees; null where too little is plumb to tell. */
  readonly plumb: Pick<Stance, 'roll' | 'pitch'> | null;
  /** Yaw against the wall that is faced, degrees; null where none is faced, or too few of its level edges tell. */
  readonly yaw: number | null;
  /** Vertical and level edges that agree. */
  readonly verticals: number;
  readonly horizontals: number;
  /** Standard error of what plumb edges are straightened by, degrees. */
  readonly error: number;
}

/** How the camera stood, as it was told from the straight edges of a frame. */
export interface ToldStance extends StanceFound {
  readonly frame: string;
  /** Focal length that it was told with, longer sides. */
  readonly focal: number;
}

const DEGREE = Math.PI / 180;
/** What is looked for: a camera hangs and looks aside by no more, degrees. */
const MOST_ROLL = 12;
const MOST_PITCH = 25;
const MOST_YAW = 20;
/** Stances that are tried, degrees apart, and how far an edge may lie off one and still speak for it. */
const STEP = 0.5;
const NEAR = 0.5 * DEGREE;
/** Residual, radians, up to which an edge belongs to what was found. */
const AGREES = 0.45 * DEGREE;
/** What a stance costs against standing level, in shares of all votes a degree: people level their cameras. */
const LEANING = 0.004;
/** Least number of voices that agree, and largest standard error, degrees, with which something is said. */
const LEAST_VOICES = 2.5;
const LARGEST_ERROR = 0.25;
const LEAST_LEVEL = 4;
/** Part of itself that a degree of yaw turns a level edge by, at least, for it to tell. */
const LEAST_TURN = 0.05;
/** The same at which it counts half. */
const HALF_TURN = 0.1;
/** Residual, in an edge's own error, at which it counts a quarter. */
const LENIENT = 2;

/** A camera that stands level. */
const LEVEL: Stance = { roll: 0, pitch: 0, yaw: 0 };
/** How far apart lines lie, radians, that count as two. */
const APART = 2.5 * DEGREE;

/** Lines with their shares of a voice. */
const voiced = (lines: readonly SeenLine[]): SeenLine[] => lines.map((line) => ({ ...line, voice: 1 / lines.reduce((sum, other) => sum + Math.exp(-((dot(line.normal, other.middle) / APART) ** 2)), 0) }));

const total = (lines: readonly SeenLine[]): number => lines.reduce((sum, { length, voice }) => sum + voice * length, 0);
/** Squared misses, in NEAR, from which on a line says nothing. */
const SILENT = 16;

/** How much lines speak for a direction; misses are small where that counts, so that their sines will do. */
function votesFor(lines: readonly SeenLine[], direction: Vector): number {
  let sum = 0;
  for (const { normal, middle, voice, length } of lines) {
    const off = dot(normal, direction) / NEAR;
    const along = dot(middle, direction);
    const square = (off * off) / Math.max(1e-9, 1 - along * along);
    if (square < SILENT) sum += voice * length * Math.exp(-0.5 * square);
  }
  return sum;
}

function findPlumb(lines: readonly SeenLine[]): Pick<StanceFound, 'plumb' | 'verticals' | 'error'> {
  const all = total(lines);
  let [best, most] = [LEVEL, -Infinity];
  for (let roll = -MOST_ROLL; roll <= MOST_ROLL; roll += STEP) {
    // Pitch tells of itself by no more than half at the sides of the picture.
    for (let pitch = -MOST_PITCH; pitch <= MOST_PITCH; pitch += 2 * STEP) {
      const votes = votesFor(lines, rayOf('down', { roll, pitch, yaw: 0 })) - LEANING * all * (Math.abs(roll) + Math.abs(pitch) / 3);
      if (votes > most) [best, most] = [{ roll, pitch, yaw: 0 }, votes];
    }
  }
  const { stance, variances } = fitStance(lines.map((line) => ({ line, way: 'down' })), best, ['roll', 'pitch'], LENIENT);
  const { roll, pitch } = stance;
  const agree = lines.filter((line) => Math.abs(missBy(line, rayOf('down', stance))) < AGREES);
  const voices = agree.reduce((sum, { voice }) => sum + voice, 0);
  // What is wrong at the sides of the picture, where an error of pitch tells by about half of itself.
  const error = Math.sqrt(variances[0] + 0.25 * variances[1]);
  const isSure = voices >= LEAST_VOICES && error < LARGEST_ERROR && Math.abs(roll) <= MOST_ROLL && Math.abs(pitch) <= MOST_PITCH;
  return { plumb: isSure ? { roll, pitch } : null, verticals: agree.length, error };
}

function findYaw(lines: readonly SeenLine[], { roll, pitch }: Pick<Stance, 'roll' | 'pitch'>): Pick<StanceFound, 'yaw' | 'horizontals'> {
  const [right, left] = [rayOf('along', { roll, pitch, yaw: 1 }), rayOf('along', { roll, pitch, yaw: -1 })];
  // An edge at the height of the camera is level whatever the yaw: only those that turn with it tell, as much as they turn.
  const turned = lines.map((line) => ({ line, turns: Math.abs(missBy(line, right) - missBy(line, left)) / (2 * DEGREE) })).filter(({ turns }) => turns > LEAST_TURN);
  const tell = turned.map(({ line }) => line);
  // How many agree counts more than how long they are: one long line of something else is soon level for some yaw.
  const telling = turned.map(({ line, turns }) => ({ ...line, length: 1, voice: (line.voice * Math.sqrt(line.length) * turns) / (turns + HALF_TURN) }));
  let [best, most] = [0, -Infinity];
  for (let yaw = -MOST_YAW; yaw <= MOST_YAW; yaw += STEP) {
    const votes = votesFor(telling, rayOf('along', { roll, pitch, yaw }));
    if (votes > most) [best, most] = [yaw, votes];
  }
  const { yaw } = fitStance(tell.map((line) => ({ line, way: 'along' })), { roll, pitch, yaw: best }, ['yaw'], LENIENT).stance;
  const horizontals = tell.filter((line) => Math.abs(missBy(line, rayOf('along', { roll, pitch, yaw }))) < AGREES).length;
  return { yaw: horizontals >= LEAST_LEVEL && Math.abs(yaw) <= MOST_YAW ? yaw : null, horizontals };
}

/**
 * How a camera stood, from straight edges of what it took: what is plumb in a room meets in one vanishing point, what is level on the faced
 * wall in another (Hartley, Zisserman 2004, 8.6). A vote of all edges over stances, then robust least squares on
 * angles. Says nothing where evidence is weak.
 * @param edges as stored, on a plane of the given size. @param focal focal length in longer sides
 */
export function estimateStance(edges: readonly Edge[], plane: Size, lens: Lens, focal: number): StanceFound {
  const lines = edges.map((edge) => seenLine(edge, plane, lens, focal));
  const isSteep = ({ normal }: SeenLine): boolean => Math.abs(normal[0]) > Math.abs(normal[1]);
  const down = findPlumb(voiced(lines.filter(isSteep)));
  const level = down.plumb ? findYaw(voiced(lines.filter((line) => !isSteep(line))), down.plumb) : { yaw: null, horizontals: 0 };
  return { ...down, ...level };
}
