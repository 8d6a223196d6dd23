import { useState } from 'react';
import { useLabelShotMutation, useLabelsQuery, type Shot } from '../store/api';

/** A shot's room label, editable in place, with labels of earlier shoots to choose from. */
export function ShotLabel({ shot }: { shot: Pick<Shot, 'id' | 'shootId' | 'label'> }) {
  const [draft, setDraft] = useState<string | null>(null);
  const [label] = useLabelShotMutation();
  const { data: known = [] } = useLabelsQuery(shot.shootId, { skip: draft === null });
  const commit = (): void => {
    const text = draft?.trim();
    if (text && text !== shot.label) void label({ id: shot.id, label: text });
    setDraft(null);
  };
  return (
    <h3>
      <input
        aria-label="Room"
        list={`labels-${shot.id}`}
        value={draft ?? shot.label}
        maxLength={80}
        onChange={(e) => setDraft(e.currentTarget.value)}
        onBlur={commit}
        onKeyDown={(e) => { if (e.key === 'Enter') e.currentTarget.blur(); if (e.key === 'Escape') setDraft(null); }}
        style={{ border: 0, background: 'none', padding: 0, width: '100%', font: 'inherit' }}
      />
      <datalist id={`labels-${shot.id}`}>{known.map((text) => <option key={text} value={text} />)}</datalist>
    </h3>
  );
}
