import pg from 'pg';

/** How long a statement waits for a database that is away, and how often it looks, milliseconds. */
const PATIENCE = 10 * 60_000;
const AGAIN = 500;
/** The server ended the connection, is starting up, or is shutting down (PostgreSQL error codes, classes 57P and 08); or it ended a transaction in which nothing was said for long (25P03). */
const AWAY = /^(57P0[123]|25P03|08...|ECONNREFUSED|ECONNRESET|EPIPE)$/;

/** Whether an error says that the database is away: stopped, starting, or cut off. */
export const isAway = (error: unknown): boolean => {
  const { code, message } = error as { code?: string; message?: string };
  return (typeof code === 'string' && AWAY.test(code)) || /Connection terminated|Client has encountered a connection error|Query runner already released/i.test(message ?? '');
};

/**
 * The job queue's way to the database: statements wait while it restarts instead of failing. The queue does not wait for
 * its own notes that a job is done or failed; one that failed would end the process. So what it asks once it was closed, of
 * jobs that were in hand then, is never answered: their claims end, and others do them again.
 */
export class PatientDatabase {
  private readonly pool: pg.Pool;
  private closed = false;

  constructor(url: string) {
    this.pool = new pg.Pool({ connectionString: url, application_name: 'zaddle-queue' });
    // An idle connection that breaks is replaced when it is needed.
    this.pool.on('error', () => undefined);
  }

  async executeSql(text: string, values: unknown[]): Promise<{ rows: unknown[] }> {
    const until = performance.now() + PATIENCE;
    for (;;) {
      try {
        return await this.pool.query(text, values);
      } catch (error) {
        if (this.closed) return new Promise(() => undefined);
        if (!isAway(error) || performance.now() > until) throw error;
        await new Promise((resolve) => setTimeout(resolve, AGAIN));
      }
    }
  }

  async close(): Promise<void> {
    if (this.closed) return;
    this.closed = true;
    await this.pool.end();
  }
}
