import { useState } from 'react';
import { useLabelShotMutation, type Shot } from '../store/api';

/** A shot's room label, editable in place. */
export function ShotLabel({ shot }: { shot: Shot }) {
  const [draft, setDraft] = useState<string | null>(null);
  const [label] = useLabelShotMutation();
  const commit = (): void => {
    const text = draft?.trim();
    if (text && text !== shot.label) void label({ id: shot.id, label: text });
    setDraft(null);
  };
  return (
    <h3>
      <input
        aria-label="Room"
        value={draft ?? shot.label}
        maxLength={80}
        onChange={(e) => setDraft(e.currentTarget.value)}
        onBlur={commit}
        onKeyDown={(e) => { if (e.key === 'Enter') e.currentTarget.blur(); if (e.key === 'Escape') setDraft(null); }}
        style={{ border: 0, background: 'none', padding: 0, width: '100%', font: 'inherit' }}
      />
    </h3>
  );
}
