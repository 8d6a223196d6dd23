import { useMemo, useRef } from 'react';
import { wantedText } from '@zaddle/core/found/storedFound';
import type { MixDocument } from '@zaddle/document';

/** Whether the server knows of everything that the masks of a mix refer to, so that it can be asked to find it. @param saved it has this very mix */
export function useKnown(mix: MixDocument, saved: boolean): boolean {
  const wanted = useMemo(() => wantedText(mix), [mix]);
  const known = useRef(wanted);
  if (saved) known.current = wanted;
  return known.current === wanted;
}
