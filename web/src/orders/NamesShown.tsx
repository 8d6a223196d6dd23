import { useState } from 'react';
import { fileNames, ORDER_EXTENSIONS, type Order } from '@zaddle/document';
import { useNamedPicturesQuery, useShootsQuery } from '../store/api';

interface NamesProps {
  readonly name: string;
  readonly order: Order;
  /** The plain order, whose files are called as pictures are. */
  readonly alone: boolean;
}

/** What an order's files would be called, for the shots of a shoot. */
export function NamesShown({ name, order, alone }: NamesProps) {
  const { data: shoots = [] } = useShootsQuery();
  const [chosen, setChosen] = useState('');
  const shoot = chosen || (shoots.find(({ shots }) => shots > 0)?.id ?? '');
  const { data: pictures = [] } = useNamedPicturesQuery(shoot, { skip: shoot === '' });
  const names = fileNames(pictures.map(({ picture }) => picture), [{ name, naming: order.naming, extension: ORDER_EXTENSIONS[order.file], client: order.client, alone }])[0];
  const numbered = new Set(names.filter((each) => /-\d+\.\w+$/.test(each) && names.includes(each.replace(/-\d+(\.\w+)$/, '$1')))).size;
  return (
    <section className="names-shown" aria-label="Names of files">
      <h3>Its files, for <select aria-label="Shoot whose names are shown" value={shoot} onChange={(e) => setChosen(e.currentTarget.value)}>{shoots.map((each) => <option key={each.id} value={each.id}>{each.name}</option>)}</select></h3>
      {pictures.length === 0 ? <p className="soft">Names are shown on your own shots once a shoot has some.</p> : (
        <ol>{pictures.map(({ shot, picture }, k) => <li key={shot}><span className="soft">{picture.room}</span> {names[k]}</li>)}</ol>
      )}
      {numbered > 0 && <p className="soft">{numbered === 1 ? 'One would be called as another is, and has a number.' : `${numbered} would be called as others are, and have numbers.`} With {'{number}'} or {'{frame}'} in it each name is its own.</p>}
    </section>
  );
}
