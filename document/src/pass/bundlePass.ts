import { blendingFields, type Blending } from './blending';
import { passObject, type PassBase, type PassKind } from './passKind';

/**
 * Passes that are composed by themselves first, and joined with what is below as one. Those that it holds say so (`within`)
 * and lie right under it.
 */
export interface BundlePass extends PassBase, Blending {
  readonly kind: 'bundle';
}

/** Bundles that may lie within each other. */
export const DEEPEST_BUNDLE = 3;

export const bundlePass: PassKind<BundlePass> = {
  schema: passObject(['bundle'], blendingFields),
  frames: () => [],
  usesMerge: () => false,
};
