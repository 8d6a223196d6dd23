import { notifications } from '@mantine/notifications';
import { useState } from 'react';
import type { MethodChoice } from '@zaddle/core/method/placeMethod';
import { failed } from '../frame/failed';
import { useGiveMethodMutation, useShootMethodQuery, useTakeMethodBackMutation, type GivenMethod, type ShootMethod } from '../store/api';

export const shotsWords = (count: number): string => `${count} ${count === 1 ? 'shot' : 'shots'}`;

/** Giving a method to shots of a shoot, and taking that back. */
export interface Giving {
  readonly busy: boolean;
  /** What came of it, until it is taken back. */
  readonly told: GivenMethod | null;
  readonly last: ShootMethod['last'];
  /** @param later shots that come later begin with it, too */
  readonly give: (choice: MethodChoice, shots: 'all' | readonly string[], later: boolean) => void;
  readonly takeBack: () => void;
}

export function useGiving(shoot: string): Giving {
  const { data } = useShootMethodQuery(shoot);
  const [send, sending] = useGiveMethodMutation();
  const [back, goingBack] = useTakeMethodBackMutation();
  const [told, setTold] = useState<GivenMethod | null>(null);
  const last = data?.last ?? null;
  const give: Giving['give'] = ({ method, strength, off }, shots, later) => {
    void send({ shoot, method, strength, off, shots, later }).unwrap().then((answer) => {
      setTold(answer);
      notifications.show({ message: `“${method.name}” is given to ${shotsWords(answer.changed)}${answer.waiting > 0 ? `; ${shotsWords(answer.waiting)} not lined up yet ${later ? 'get it when they are' : 'do not get it: give it again when they are'}` : ''}.` });
    }, failed);
  };
  const takeBack = (): void => {
    if (!last) return;
    void back(last.id).unwrap().then(({ back: undone, tuned, left }) => {
      setTold(null);
      notifications.show({ message: `Taken back from ${shotsWords(undone + tuned)}${tuned > 0 ? `; in ${tuned} of them what was done since stays` : ''}${left > 0 ? `; ${shotsWords(left)} had gone another way already` : ''}.` });
    }, failed);
  };
  return { busy: sending.isLoading || goingBack.isLoading, told, last, give, takeBack };
}
