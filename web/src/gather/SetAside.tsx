import { Button } from '@mantine/core';
import { useConfirm } from '../frame/useConfirm';
import { useDeleteFrameMutation, type Frame } from '../store/api';
import { currentMoved, reviewOpened } from '../store/gatherSlice';
import { useAppDispatch } from '../store/store';
import { FrameCard } from './FrameCard';

interface SetAsideProps {
  readonly dropped: readonly Frame[];
  readonly rejected: readonly Frame[];
  readonly chosen: readonly string[];
  readonly current: string | null;
  readonly onFailed: (error: unknown) => void;
}

const counted = (n: number): string => (n === 1 ? '1 file' : `${n} files`);

/** Frames that a person dropped, and files that are none: to be looked at, taken back, or deleted. */
export function SetAside({ dropped, rejected, chosen, current, onFailed }: SetAsideProps) {
  const dispatch = useAppDispatch();
  const [remove] = useDeleteFrameMutation();
  const { ask, dialog } = useConfirm();
  const removeAll = async (frames: readonly Frame[]): Promise<void> => {
    for (const frame of frames) await remove(frame.id).unwrap();
  };
  const askFor = (frames: readonly Frame[]): void => ask({
    title: `Delete ${frames.length === 1 ? frames[0].name : counted(frames.length)}?`, act: `Delete ${counted(frames.length)}`,
    text: 'They leave this server for good; regrouping cannot bring them back. The card itself is not touched.', onYes: () => void removeAll(frames).catch(onFailed),
  });
  return (
    <>
      {dropped.length > 0 && (
        <section className="rejects" aria-label="Dropped frames">
          <h3>Dropped <Button size="compact-xs" variant="default" ml={8} onClick={() => askFor(dropped)}>Delete {counted(dropped.length)}…</Button></h3>
          <div className="frames">{dropped.map((f) => <FrameCard key={f.id} frame={f} shot={undefined} chosen={chosen.includes(f.id)} current={f.id === current} onPick={(id) => dispatch(currentMoved(id))} onOpen={(id) => dispatch(reviewOpened(id))} />)}</div>
        </section>
      )}
      {rejected.length > 0 && (
        <section className="rejects" aria-label="Rejected files">
          <h3>Not used <Button size="compact-xs" variant="default" ml={8} onClick={() => askFor(rejected)}>Delete {counted(rejected.length)}…</Button></h3>
          {rejected.map((f) => <div key={f.id}><span className="dot bad" /> <strong>{f.name}</strong>: {f.why}</div>)}
          <p className="soft">Drop a file again to have it tried again.</p>
        </section>
      )}
      {dialog}
    </>
  );
}
