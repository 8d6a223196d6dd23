import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useNavigate } from 'react-router';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import type { Shot, ShotDetail } from '../store/api';
import { useAppDispatch } from '../store/store';
import { pictureReached, wallEntered } from '../store/wallSlice';

interface WallLinkProps {
  readonly shot: Shot;
  readonly review: ShotDetail['review'];
}

/** From the desk to this shot's place on the wall; and what was noted there, if it was sent back. */
export function WallLink({ shot, review }: WallLinkProps) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const wall = `/shoots/${shot.shootId}/wall`;
  const reach = (): void => {
    dispatch(wallEntered(shot.shootId));
    dispatch(pictureReached(shot.id));
  };
  useHotkeys('shift+o', () => { reach(); void navigate(wall); }, KEYS_WHEREVER);
  return (
    <>
      <Link to={wall} onClick={reach} style={{ color: 'inherit' }} title="All pictures of the shoot as a set (Shift + o)">Wall</Link>
      {review?.state === 'sent back' && <span className="sent-back" title={review.note}><b>Sent back</b>{review.note ? `: ${review.note}` : ''}</span>}
    </>
  );
}
