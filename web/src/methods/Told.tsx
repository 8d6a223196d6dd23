import { PART_TITLES } from '@zaddle/core/method/partWords';
import { shotsWords, type Giving } from './useGiving';

/** The method that shots were given together last, to be taken back; and what shots had no use for, shot by shot. */
export function Told({ last, told, busy, takeBack }: Giving) {
  const rows = told ? [...told.failed.map(({ label, why }) => `${label}: not given, ${why}`), ...told.lacking.map(({ label, part, why }) => `${label}: ${PART_TITLES[part].toLowerCase()} left alone, ${why}`)] : [];
  return (
    <>
      {last && <p className="with-act">“{last.name}” is on {shotsWords(last.shots)} <button className="flat" disabled={busy} onClick={takeBack}>Take back everywhere</button></p>}
      {rows.length > 0 && <ul className="told-list" aria-label="What shots had no use for">{rows.map((row) => <li key={row}>{row}</li>)}</ul>}
    </>
  );
}
