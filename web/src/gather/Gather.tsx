import { Button, Group, Progress } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import dayjs from 'dayjs';
import { useRef, useState, type DragEvent } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { useDeliverMutation, useShootQuery, type Frame, type Shot } from '../store/api';
import { ShotLabel } from './ShotLabel';
import { filesOfDrop, uploadFiles, type UploadProgress } from './uploadFiles';

const shutter = (seconds: number | null): string => (seconds === null ? '' : seconds < 0.4 ? `1/${Math.round(1 / seconds)}` : `${Math.round(seconds * 10) / 10} s`);

function FrameCard({ frame }: { frame: Frame }) {
  const gathered = frame.state === 'gathered';
  return (
    <figure className={`frame ${frame.role === 'spare' ? 'spare' : ''}`} style={{ margin: 0 }} title={frame.why}>
      {gathered ? <img src={`/api/frames/${frame.id}/thumbnail`} alt={frame.name} loading="lazy" /> : <div className="blank" />}
      <figcaption>
        <div className="line"><span>{frame.name}</span></div>
        <div className="line"><span className="role">{gathered ? frame.role : 'reading…'}</span><span className="soft">{shutter(frame.facts?.seconds ?? null)}</span></div>
      </figcaption>
    </figure>
  );
}

/** The worst of a shot's readings. */
function stateOf(shot: Shot): 'good' | 'check' | 'bad' {
  if (shot.state === 'failed' || shot.readings.some((r) => r.state === 'bad')) return 'bad';
  return shot.confidence < 0.6 || shot.readings.some((r) => r.state === 'check') ? 'check' : 'good';
}

function ShotBlock({ shot, frames }: { shot: Shot; frames: readonly Frame[] }) {
  const first = frames.find((f) => f.facts?.takenAt)?.facts?.takenAt;
  const doubts = shot.readings.filter((r) => r.state !== 'good');
  return (
    <section className="shot-block" aria-label={shot.label}>
      <div>
        <ShotLabel shot={shot} />
        <div className="soft">{first ? dayjs(first).format('HH:mm:ss') : 'no time'} · {frames.length} {frames.length === 1 ? 'frame' : 'frames'}</div>
        {shot.state === 'sorted' && <div className="soft">lining up…</div>}
        {shot.state === 'failed' && <div className="late">{shot.why}</div>}
        {shot.confidence < 0.6 && <div><span className="dot check" /> Perhaps not one shot: {shot.why}</div>}
        {doubts.slice(0, 2).map((r) => <div key={r.kind}><span className={`dot ${r.state}`} /> {r.text}</div>)}
        {shot.state === 'mixed' && <Button component={Link} to={`/shots/${shot.id}`} size="xs" mt={6} leftSection={<span className={`dot ${stateOf(shot)}`} />}>Open at the desk</Button>}
      </div>
      <div className="frames">{frames.map((frame) => <FrameCard key={frame.id} frame={frame} />)}</div>
    </section>
  );
}

/** Frames of a card falling into shots; more can be dropped at any time. */
export function Gather() {
  const { shootId = '' } = useParams();
  const { data: shoot, isError } = useShootQuery(shootId);
  const [upload, setUpload] = useState<UploadProgress | null>(null);
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const [deliver, { isLoading: delivering }] = useDeliverMutation();
  const navigate = useNavigate();
  if (isError) return <main className="page"><p className="late">This shoot is not there any more. <Link to="/">Back to the shoots</Link></p></main>;
  if (!shoot) return <main className="page" />;

  const send = async (files: readonly File[]): Promise<void> => {
    if (files.length === 0) return;
    const end = await uploadFiles(shootId, files, setUpload);
    if (end.failed.length === 0) setUpload(null);
    notifications.show({ title: `${end.done - end.known - end.failed.length} files sent`, message: `${end.known} were here already, ${end.failed.length} failed. Drop the card again to send what is missing.` });
  };
  const drop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    void filesOfDrop(event.dataTransfer).then(send);
  };
  const reading = shoot.frames.filter((f) => f.state === 'waiting').length;
  const rejected = shoot.frames.filter((f) => f.state === 'rejected');
  const ready = shoot.shots.filter((s) => s.state === 'mixed');
  const deliverAll = async (): Promise<void> => {
    await deliver({ shots: ready.map((s) => s.id), quality: 95 }).unwrap();
    void navigate('/outbox');
  };
  return (
    <main className="page" onDragOver={(e) => { e.preventDefault(); setOver(true); }} onDragLeave={() => setOver(false)} onDrop={drop} data-testid="gather">
      <Group justify="space-between" mb="sm" align="flex-start">
        <div><h1>{shoot.name}</h1><div className="soft">{shoot.address}{shoot.dueAt && ` · due ${dayjs(shoot.dueAt).format('ddd D MMM, HH:mm')}`}</div></div>
        <Group>
          <Button variant="default" onClick={() => picker.current?.click()}>Add files</Button>
          <Button onClick={() => void deliverAll()} disabled={ready.length === 0 || ready.length < shoot.shots.length} loading={delivering}>Deliver all {shoot.shots.length} shots</Button>
        </Group>
      </Group>
      <input ref={picker} type="file" multiple hidden data-testid="file-picker" onChange={(e) => { void send([...(e.currentTarget.files ?? [])]); e.currentTarget.value = ''; }} />
      {(over || shoot.frames.length === 0) && <div className="drop">{over ? 'Let go to add these files.' : 'Drop a camera card or files here, or use “Add files”. What is dropped twice counts once.'}</div>}
      {upload && (
        <div className="drop">
          <div style={{ flex: 1 }}>Sending {upload.done} of {upload.total}<Progress value={(100 * upload.done) / Math.max(1, upload.total)} mt={4} /></div>
          {upload.failed.map((f) => <div key={f.name} className="late">{f.name}: {f.why}</div>)}
        </div>
      )}
      {reading > 0 && <div className="drop">Reading {shoot.frames.length - reading} of {shoot.frames.length} files…</div>}
      {shoot.shots.map((shot) => <ShotBlock key={shot.id} shot={shot} frames={shoot.frames.filter((f) => f.shotId === shot.id)} />)}
      {shoot.shots.length === 0 && <div className="frames">{shoot.frames.filter((f) => f.state !== 'rejected').map((frame) => <FrameCard key={frame.id} frame={frame} />)}</div>}
      {rejected.length > 0 && (
        <section className="rejects" aria-label="Rejected files">
          <h3>Not used</h3>
          {rejected.map((f) => <div key={f.id}><span className="dot bad" /> <strong>{f.name}</strong>: {f.why}</div>)}
        </section>
      )}
    </main>
  );
}
