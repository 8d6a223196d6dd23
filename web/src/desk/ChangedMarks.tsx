import { notifications } from '@mantine/notifications';
import { useMemo } from 'react';
import { changedPlaces, disclosure } from '@zaddle/core/clean/changedPlaces';
import type { MixDocument, Point } from '@zaddle/document';
import type { Frame } from '../store/api';
import { selected as select } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';
import { toStage } from './stagePlaces';
import type { Viewport } from './useViewport';

const line = (points: readonly Point[]): string => `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}Z`;

/** Places of the picture that were replaced or filled, outlined and numbered, with a text for the client that can be taken along. */
export function ChangedMarks({ mix, view, frames }: { mix: MixDocument; view: Viewport; frames: readonly Frame[] }) {
  const dispatch = useAppDispatch();
  const places = useMemo(() => changedPlaces(mix), [mix]);
  const lines = disclosure(places, (id) => frames.find((f) => f.id === id)?.name ?? 'a frame');
  const unit = Math.max(mix.frames[mix.reference].width, mix.frames[mix.reference].height);
  const place = toStage(mix, view);
  const onScreen = ([x, y]: Point): Point => place([x / unit, y / unit]);
  const copy = (): void => {
    navigator.clipboard.writeText(lines.join('\n')).then(
      () => notifications.show({ message: 'The text is on the clipboard.' }),
      () => notifications.show({ color: 'red', title: 'Not copied', message: 'This browser does not let pages write to the clipboard. Select the text and copy it.' }),
    );
  };
  return (
    <>
      <svg className="area-line" role="img" aria-label={`${places.length} changed ${places.length === 1 ? 'place' : 'places'}`}>
        {places.flatMap(({ rings }, k) => rings.map((ring, r) => {
          const points = ring.map(onScreen);
          return <g key={`${k} ${r}`}><path className="under" d={line(points)} /><path d={line(points)} /><text x={points[0][0] + 4} y={points[0][1] - 4}>{k + 1}</text></g>;
        }))}
      </svg>
      <div className="changed-card" role="region" aria-label="What was changed" onPointerDown={(e) => e.stopPropagation()} onWheel={(e) => e.stopPropagation()}>
        {places.length === 0 ? <p className="soft">Nothing of the property was replaced or filled. The picture is joined from several exposures of it.</p> : (
          <>
            <ol>{lines.map((each, k) => <li key={k}><button className="flat" title="Select this pass" onClick={() => dispatch(select(places[k].pass))}>{each.replace(/^\d+\. /, '')}</button></li>)}</ol>
            <div className="tools"><button onClick={copy}>Copy as text</button></div>
          </>
        )}
      </div>
    </>
  );
}
