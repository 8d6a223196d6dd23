import type { ShootSummary } from '../store/api';

/** Whether all that a shoot has is delivered. */
export const isDone = ({ shots, delivered }: ShootSummary): boolean => shots > 0 && delivered >= shots;

/** What comes first for somebody who has to be done by morning: open shoots by when they are due, then open ones without a time, then what is delivered; of the rest the newest first. @param search words that name or address has, all of them */
export function listed(shoots: readonly ShootSummary[], search: string): readonly ShootSummary[] {
  const words = search.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  const found = shoots.filter(({ name, address }) => words.every((word) => `${name} ${address}`.toLocaleLowerCase().includes(word)));
  const rank = (shoot: ShootSummary): number => (isDone(shoot) ? 2 : shoot.dueAt === null ? 1 : 0);
  const due = ({ dueAt }: ShootSummary): number => (dueAt === null ? 0 : Date.parse(dueAt));
  return [...found].sort((a, b) => rank(a) - rank(b) || (rank(a) === 0 ? due(a) - due(b) : 0) || Date.parse(b.createdAt) - Date.parse(a.createdAt));
}

/** What to do next with a shoot, in a few words, and where. */
export function nextStep({ id, frames, shots, mixed, delivered, approved, sentBack }: ShootSummary): { readonly text: string; readonly to: string } {
  const [gather, wall] = [`/shoots/${id}`, `/shoots/${id}/wall`];
  if (frames.waiting > 0) return { text: `Reading, ${frames.waiting} files left`, to: gather };
  if (frames.gathered === 0) return { text: 'Add a card', to: gather };
  if (mixed < shots) return { text: `Mixing, ${shots - mixed} shots left`, to: mixed > 0 ? wall : gather };
  if (delivered >= shots) return { text: 'Delivered', to: '/outbox' };
  if (sentBack > 0) return { text: `Mend ${sentBack} sent back`, to: wall };
  return { text: approved >= shots ? 'Deliver: all approved' : `Look at ${shots - approved} of ${shots}`, to: wall };
}
