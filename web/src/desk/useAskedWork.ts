import { notifications } from '@mantine/notifications';
import { useEffect } from 'react';
import type { Command, MixDocument, PassChanges } from '@zaddle/document';
import type { Engine } from '../engine/useEngine';
import { maskWithSnapped } from '../area/maskWithSnapped';
import { snapEnded } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';

interface AskedWork {
  readonly mix: MixDocument;
  /** The mix without what is being dragged or tried. */
  readonly standing: MixDocument;
  readonly state: Engine['state'];
  readonly lineUpPart: Engine['lineUpPart'];
  readonly screenOff: Engine['screenOff'];
  readonly snapArea: Engine['snap'];
  readonly onAct: (command: Command, done: boolean) => void;
  readonly onChange: (id: string, changes: PassChanges, done: boolean) => void;
}

/** What is asked for in the panel, worked out by the engine, and then a change like any other: a part lined up, a screen put off, an outline snapped. */
export function useAskedWork({ mix, standing, state, lineUpPart, screenOff, snapArea, onAct, onChange }: AskedWork): void {
  const dispatch = useAppDispatch();
  const { part, screen, snap } = useAppSelector((s) => s.desk);
  useEffect(() => {
    if (part) lineUpPart(mix, part.pass);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [part]);
  useEffect(() => {
    const done = state.part;
    if (!done) return;
    if (!done.found) return void notifications.show({ color: 'red', title: 'Not lined up', message: 'This area has too little structure to line up by itself. Nudge it by hand.' });
    onAct({ kind: 'changePass', id: done.pass, changes: { alignment: done.found.alignment } }, true);
    notifications.show({ title: 'Area lined up', message: `${done.found.windows} places agree to ${done.found.residualPx.toFixed(2)} px.` });
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [state.part]);
  useEffect(() => {
    const fill = screen && standing.passes.find(({ id }) => id === screen.pass);
    if (!fill) return;
    screenOff({ ...standing, passes: standing.passes.filter((pass) => pass !== fill) }, fill.mask, (tones) => {
      if (!tones) return void notifications.show({ color: 'red', title: 'Not filled', message: 'Nothing of the room is seen about this place. Draw the screen within the picture.' });
      onChange(fill.id, { ...tones, around: false, ...(fill.name === 'Fill' ? { name: 'Screen off' } : {}) }, true);
    });
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [screen]);
  useEffect(() => {
    if (snap) snapArea(mix, snap.pass, snap.area);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [snap]);
  useEffect(() => {
    const done = state.snapped;
    const own = done && mix.passes.find((p) => p.id === done.pass);
    if (!done || !own) return;
    const mask = maskWithSnapped(own.mask, done.asked, done.area);
    if (mask === 'changed') notifications.show({ title: 'Not snapped', message: 'You changed this area while edges were looked for: it stays as you left it. Snap it again.' });
    else if (mask === 'same') notifications.show({ title: 'Left as it was', message: 'No edge stands out near this outline. Draw it closer to one, or leave it as it is.' });
    else onChange(own.id, { mask }, true);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [state.snapped]);
  useEffect(() => {
    if (state.snapped || state.failure) dispatch(snapEnded());
  }, [state.snapped, state.failure, dispatch]);
}
