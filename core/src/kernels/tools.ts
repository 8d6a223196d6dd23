import type { Arena } from './arena';
import type { Kernels } from './kernels';

/** Where kernels run and what memory they have. */
export interface Tools {
  readonly kernels: Kernels;
  readonly arena: Arena;
}
