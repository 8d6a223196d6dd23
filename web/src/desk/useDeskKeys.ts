import { useRef } from 'react';
import { useHotkeys, type HotkeyCallback } from 'react-hotkeys-hook';
import type { Pass, PassChanges } from '@zaddle/document';
import { DRAWN } from '../area/areas';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import { beyondToggled, calmToggled, COMPARE_WAYS, comparedWith, drawerToggled, foldToggled, lookChosen, mapToggled, markingToggled, nextMaskLook, panelOpened, radiusScaled, readingsToggled, selected as select, softnessSet, soloed, laidOut, tellingToggled, toolTaken, wayChosen } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import type { PassActions } from './usePassActions';

interface DeskKeys {
  readonly passes: readonly Pass[];
  readonly actions: PassActions;
  readonly onChange: (id: string, changes: PassChanges, done: boolean) => void;
  readonly onStep: (direction: 'undo' | 'redo') => void;
  readonly onZoom: (kind: 'whole' | 'one') => void;
  /** The picture as the next of the chosen orders delivers it. */
  readonly onOrder: () => void;
  /** To the shot after this one, or before it. */
  readonly onShot: (by: 1 | -1) => void;
  /** To the next place that nobody has decided about, or the one before. */
  readonly onPlace: (by: 1 | -1) => void;
}

/** A key of the desk. */
const useDeskKey = (keys: string, act: HotkeyCallback): void => void useHotkeys(keys, act, KEYS_WHEREVER);

/** Milliseconds from which on a key counts as held. */
const HELD = 350;

/** A key that turns something on, and off by the next tap; held, until it is let go. @param toggle null where there is nothing to turn on */
function useTapOrHold(key: string, toggle: (() => void) | null): void {
  const since = useRef(0);
  useDeskKey(key, (event) => {
    if (event.repeat || !toggle) return;
    since.current = event.timeStamp;
    toggle();
  });
  useHotkeys(key, (event) => {
    if (toggle && since.current > 0 && event.timeStamp - since.current > HELD) toggle();
    since.current = 0;
  }, { ...KEYS_WHEREVER, keyup: true, keydown: false });
}

/** Keyboard of the desk; listed for people in `frame/shortcuts.ts`. */
export function useDeskKeys({ passes, actions, onChange, onStep, onZoom, onOrder, onShot, onPlace }: DeskKeys): void {
  const dispatch = useAppDispatch();
  const { selected, softness, panel, look, tool, compare, spot } = useAppSelector((s) => s.desk);
  const pass = passes.find((p) => p.id === selected);
  const neighbour = (by: number): void => {
    const index = passes.findIndex((p) => p.id === selected);
    const next = passes[Math.max(0, Math.min(passes.length - 1, index < 0 ? 0 : index + by))];
    if (next) dispatch(select(next.id));
  };
  useDeskKey('p', () => dispatch(toolTaken('more')));
  useDeskKey('o', () => dispatch(toolTaken('less')));
  useDeskKey(DRAWN.map(({ key }) => key).join(), (event) => dispatch(toolTaken(DRAWN.find(({ key }) => key === `${event.shiftKey ? 'shift+' : ''}${event.key.toLowerCase()}`)!.kind)));
  useDeskKey('z', () => dispatch(toolTaken('outline')));
  useDeskKey('slash', () => panel === 'pass' && dispatch(toolTaken(tool === 'search' ? 'pan' : 'search')));
  useDeskKey('backslash', () => panel === 'pass' && dispatch(toolTaken(tool === 'heal' ? 'pan' : 'heal')));
  // The strip of a place that was searched is closed by itself.
  useDeskKey('escape', () => !spot && panel !== 'framing' && panel !== 'finish' && panel !== 'methods' && dispatch(toolTaken('pan')));
  useDeskKey('comma', () => dispatch(radiusScaled(1 / 1.2)));
  useDeskKey('period', () => dispatch(radiusScaled(1.2)));
  useDeskKey('semicolon', () => dispatch(softnessSet(softness - 0.1)));
  useDeskKey('quote', () => dispatch(softnessSet(softness + 0.1)));
  useDeskKey('k', () => neighbour(-1));
  useDeskKey('l', () => neighbour(1));
  useDeskKey('m', () => pass && onChange(pass.id, { on: !pass.on }, true));
  useDeskKey('u', () => pass && actions.duplicate(pass.id));
  useDeskKey('delete,backspace', () => pass && actions.remove(pass.id));
  useDeskKey('shift+k', () => pass && actions.moveBy(pass.id, -1));
  useDeskKey('shift+l', () => pass && actions.moveBy(pass.id, 1));
  useDeskKey('minus', () => pass && actions.blend(pass.id, -1));
  useDeskKey('equal', () => pass && actions.blend(pass.id, 1));
  // In line-up these keys turn the frame and hold it against the reference.
  const apart = panel === 'pass';
  useDeskKey('bracketleft', () => apart && pass && actions.bundle(pass.id));
  useDeskKey('bracketright', () => apart && pass && (pass.kind === 'bundle' ? actions.dissolve(pass.id) : actions.takeOut(pass.id)));
  useDeskKey('d', () => apart && dispatch(comparedWith(compare ? null : 'before')));
  useDeskKey('h', () => apart && compare && dispatch(wayChosen(COMPARE_WAYS[(COMPARE_WAYS.indexOf(compare.way) + 1) % COMPARE_WAYS.length])));
  useDeskKey('j', () => apart && dispatch(laidOut('starts')));
  useDeskKey('shift+j', () => apart && dispatch(laidOut('renderings')));
  useDeskKey('i', () => dispatch(tellingToggled()));
  useDeskKey('shift+i', () => dispatch(mapToggled()));
  useDeskKey('shift+c', () => dispatch(markingToggled()));
  useDeskKey('y', () => pass && dispatch(toolTaken(tool === 'neutral' ? 'pan' : 'neutral')));
  useDeskKey('f', () => pass?.kind === 'adjust' && dispatch(toolTaken(tool === 'tone' ? 'pan' : 'tone')));
  useDeskKey('n', (event) => { event.preventDefault(); dispatch(drawerToggled()); });
  useDeskKey('q', () => dispatch(foldToggled()));
  useDeskKey('shift+q', () => dispatch(calmToggled()));
  useDeskKey('shift+n', (event) => { event.preventDefault(); onPlace(1); });
  useDeskKey('shift+p', () => onPlace(-1));
  useDeskKey('pagedown', (event) => { event.preventDefault(); onShot(1); });
  useDeskKey('pageup', (event) => { event.preventDefault(); onShot(-1); });
  useDeskKey('g', () => dispatch(readingsToggled()));
  useTapOrHold('s', pass ? () => dispatch(soloed(pass.id)) : null);
  useTapOrHold('b', () => dispatch(lookChosen('before')));
  useTapOrHold('shift+b', pass ? () => dispatch(lookChosen('without')) : null);
  useDeskKey('c', () => dispatch(lookChosen('clipping')));
  useDeskKey('v', () => pass && dispatch(lookChosen(nextMaskLook(look))));
  useDeskKey('a', () => dispatch(panelOpened(panel === 'lineUp' ? 'pass' : 'lineUp')));
  useDeskKey('shift+f', () => dispatch(panelOpened(panel === 'framing' ? 'pass' : 'framing')));
  useDeskKey('shift+s', () => dispatch(panelOpened(panel === 'finish' ? 'pass' : 'finish')));
  useDeskKey('shift+m', () => dispatch(panelOpened(panel === 'methods' ? 'pass' : 'methods')));
  useDeskKey('shift+w', () => dispatch(beyondToggled()));
  useDeskKey('w', () => onZoom('whole'));
  useDeskKey('e', () => onZoom('one'));
  useDeskKey('shift+e', () => onOrder());
  useDeskKey('ctrl+z,meta+z', (event) => { event.preventDefault(); onStep('undo'); });
  useDeskKey('ctrl+shift+z,meta+shift+z', (event) => { event.preventDefault(); onStep('redo'); });
}
