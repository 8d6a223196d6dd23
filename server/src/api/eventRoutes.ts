import { Router, type Response } from 'express';
import type { ServerEvent } from '../data/events';

/** Server-sent events (WHATWG HTML) to every open page. */
export class EventStream {
  private readonly pages = new Set<Response>();

  readonly router = Router().get('/events', (request, response) => {
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' }).flushHeaders();
    response.write('retry: 1000\n\n');
    this.pages.add(response);
    request.on('close', () => this.pages.delete(response));
  });

  publish(event: ServerEvent): void {
    for (const page of this.pages) page.write(`data: ${JSON.stringify(event)}\n\n`);
  }

  close(): void {
    for (const page of this.pages) page.end();
  }
}
