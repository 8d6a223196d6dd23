import { useRouteError } from 'react-router';

/** Shown in the place of a page that could not be fetched or drawn: what happened to the work, and what to do. */
export function PageFault() {
  const error = useRouteError();
  const text = error instanceof Error ? error.message : String(error);
  return (
    <main className="page" role="alert">
      <h1>This page could not be shown</h1>
      <p>Nothing of your work is lost: what was saved lies on the server, and what was not yet is kept in this browser and sent once a page is open again.</p>
      <p><button onClick={() => location.reload()}>Load it again</button> or go back to the <a href="/">shoots</a>. Where it happens time and again, this is what to report:</p>
      <pre className="soft">{text}</pre>
    </main>
  );
}
