import { notifications } from '@mantine/notifications';
import { useEffect, useState } from 'react';
import { failed } from '../frame/failed';
import { useReviewShotMutation, type ReviewState, type WallShot } from '../store/api';
import { isGivenUp } from './arrange';

/** What was just thought of a picture, until the server's list says so, too. */
interface Pending {
  readonly state: ReviewState | null;
  readonly note: string;
  /** The picture that was seen is not the latest any more. */
  readonly changedSince: boolean;
}

/** Milliseconds after which what somebody else said meanwhile counts, once the server has answered. */
const SETTLED = 3000;

const agrees = ({ review }: WallShot, { state, note }: Pending): boolean => (state === null ? review === null : review?.state === state && review.note === note);

/**
 * Judging pictures: what is judged shows at once and stays, though a list that was asked for before may come in after it.
 * @returns the shots with that, and what judges one
 */
export function useReviews(shoot: string, shots: readonly WallShot[]): { readonly shots: readonly WallShot[]; readonly judge: (shot: WallShot, state: ReviewState | null, note?: string) => void } {
  const [send] = useReviewShotMutation();
  const [pending, setPending] = useState<ReadonlyMap<string, Pending>>(new Map());
  const drop = (id: string, what: Pending): void => setPending((all) => (all.get(id) === what ? new Map([...all].filter(([key]) => key !== id)) : all));
  useEffect(() => {
    for (const [id, what] of pending) {
      const shot = shots.find((each) => each.id === id);
      if (!shot || agrees(shot, what)) drop(id, what);
    }
  }, [shots, pending]);
  const judge = (shot: WallShot, state: ReviewState | null, note = ''): void => {
    // What was not drawn yet was not seen.
    if (shot.preview === null) return void notifications.show({ message: isGivenUp(shot) ? `${shot.label} could not be drawn: look at it at the desk, and deliver it from there.` : `${shot.label} is not drawn yet: look at it first.` });
    const what: Pending = { state, note, changedSince: shot.preview !== shot.revision };
    setPending((all) => new Map(all).set(shot.id, what));
    void send({ shoot, shot: shot.id, state, note, revision: shot.preview }).unwrap().then(() => { setTimeout(() => drop(shot.id, what), SETTLED); }, (error: unknown) => { drop(shot.id, what); failed(error); });
  };
  const shown = shots.map((shot): WallShot => {
    const what = pending.get(shot.id);
    return what ? { ...shot, review: what.state && { state: what.state, note: what.note, changedSince: what.changedSince } } : shot;
  });
  return { shots: shown, judge };
}
