import { useEffect, useRef, type KeyboardEvent } from 'react';
import type { MixDocument, Source } from '@zaddle/document';
import type { Frame } from '../store/api';
import { drawerToggled } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';
import { stops } from './showValues';
import { goodFor, switchedSources } from './newPass';
import type { PassActions } from './usePassActions';

interface DrawerProps {
  readonly mix: MixDocument;
  readonly frames: readonly Frame[];
  readonly actions: PassActions;
}

/** What a card gives: a source, and what a pass of it is called. */
interface Card {
  readonly source: Source;
  readonly name: string;
  readonly title: string;
  readonly face: string | null;
  readonly lines: readonly string[];
}

/** What is dragged from the drawer onto the strips. */
export const SOURCE_DRAG = 'application/x-zaddle-source';

const fileStem = (name: string): string => name.replace(/\.[^.]+$/, '');

function cardsOf(mix: MixDocument, frames: readonly Frame[]): Card[] {
  const own = frames.filter((f) => f.id in mix.frames && !f.dropped);
  return [
    { source: { kind: 'merge' }, name: 'Ambient', title: `Ambient, ${mix.merge.length} joined`, face: mix.reference, lines: ['every tone, little noise'] },
    { source: { kind: 'below' }, name: 'What is below', title: 'What is below', face: null, lines: ['the picture so far,', 'once more'] },
    ...own.flatMap((f): Card[] => {
      const shot = `${f.role}, ${stops(mix.frames[f.id].stops)}`;
      const whole: Card = { source: { kind: 'frame', frame: f.id }, name: fileStem(f.name), title: f.name, face: f.id, lines: [shot, goodFor(mix, f)] };
      return f.role === 'flash' ? [whole, { source: { kind: 'flash', frame: f.id }, name: `${fileStem(f.name)}, flash`, title: `${f.name}, flash alone`, face: f.id, lines: [shot, 'its own light, to be added'] }] : [whole];
    }),
    ...switchedSources(mix, own).map(({ source, label }): Card => ({ source, name: label, title: label, face: source.kind === 'switched' ? source.frame : null, lines: ['their own light,', 'to be added'] })),
  ];
}

/** Everything that a pass can take its pixels from. A card is added whole by Enter or a click, hidden by Shift with either, or dragged to its place among the strips. */
export function FrameDrawer({ mix, frames, actions }: DrawerProps) {
  const dispatch = useAppDispatch();
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => list.current?.querySelector('button')?.focus(), []);
  const walk = (event: KeyboardEvent): void => {
    if (event.key === 'Escape') {
      event.stopPropagation();
      dispatch(drawerToggled());
      return;
    }
    if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
    event.preventDefault();
    const buttons = [...list.current!.querySelectorAll<HTMLButtonElement>('button.card')];
    buttons[buttons.indexOf(document.activeElement as HTMLButtonElement) + (event.key === 'ArrowRight' ? 1 : -1)]?.focus();
  };
  return (
    <section className="drawer" aria-label="Add a pass" onKeyDown={walk}>
      <header><h4>Add a pass</h4><button className="flat" title="Exposure, colour and tones of all that is below, or of one pass" onClick={() => actions.addTone()}>Tone</button><button className="flat" title="Exposure, colour and tones of the sky alone, outside or through windows" onClick={() => actions.addPart('sky')}>Sky</button><button className="flat" title="The painted ceiling alone: its colour is calmed, the walls stay as they are" onClick={() => actions.addPart('ceiling')}>Ceiling</button><button className="flat" title="Painted walls alone: their colour is calmed, the ceiling stays as it is" onClick={() => actions.addPart('walls')}>Walls</button><button className="flat" title="A surface that you point at then, alone: a door, a worktop, a floor" onClick={() => { actions.addPart('surface'); dispatch(drawerToggled()); }}>Surface</button><button className="flat" title="One tone, or a ramp of tones" onClick={() => actions.addFill()}>Fill</button><span className="soft">Click or Enter: whole. With Shift: hidden, to be painted in. Or drag it onto the strips.</span><button className="flat" onClick={() => dispatch(drawerToggled())}>Close</button></header>
      <div className="cards" ref={list}>
        {cardsOf(mix, frames).map(({ source, name, title, face, lines }) => (
          <button
            key={title} className="card" aria-label={`Add ${title}`} draggable
            onDragStart={(e) => e.dataTransfer.setData(SOURCE_DRAG, JSON.stringify({ source, name }))}
            onClick={(e) => actions.add(source, name, e.shiftKey)}
          >
            <span className="thumb" style={face ? { backgroundImage: `url(/api/frames/${face}/thumbnail)` } : {}} />
            <b>{title}</b>
            {lines.map((line) => <span key={line} className="soft">{line}</span>)}
          </button>
        ))}
        {frames.filter((f) => !(f.id in mix.frames) && !f.dropped && f.state === 'gathered').map((f) => (
          <div key={f.id} className="card out" title="Line it up by hand (a) to use it">
            <span className="thumb" style={{ backgroundImage: `url(/api/frames/${f.id}/thumbnail)` }} />
            <b>{f.name}</b>
            <span className="soft">not lined up:</span><span className="soft">press a to do it by hand</span>
          </div>
        ))}
      </div>
    </section>
  );
}
