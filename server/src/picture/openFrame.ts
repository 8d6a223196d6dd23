import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import { decodeFrame } from './decodeFrame';
import type { Openable } from './renderPicture';

/** A frame's file, to be opened at the depth that it is stored in. */
export const openable = (path: string, { deep = false }: FrameFacts): Openable => ({ deep, open: () => decodeFrame(path, deep) });
