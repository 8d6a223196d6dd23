import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express } from 'express';
import helmet from 'helmet';
import type { ServerWorkshop } from '../jobs/workshop';
import type { NetworkKeys } from '../lend/networkKeys';
import { isFromNetwork, openDoor, type Listening } from '../lend/openDoor';
import type { LevelStore } from '../levels/levelStore';
import { archiveRoutes } from './archiveRoutes';
import { batchRoutes } from './batchRoutes';
import { wallRoutes } from './wallRoutes';
import { deliveryRoutes } from './deliveryRoutes';
import type { EventStream } from './eventRoutes';
import { forecastRoutes } from './forecastRoutes';
import { frameRoutes } from './frameRoutes';
import { groupingRoutes } from './groupingRoutes';
import { keyRoutes } from './keyRoutes';
import { lendRoutes } from './lendRoutes';
import { lensRoutes } from './lensRoutes';
import { liveRoutes } from './liveRoutes';
import { methodRoutes } from './methodRoutes';
import { orderRoutes } from './orderRoutes';
import { mixRoutes } from './mixRoutes';
import { historyRoutes } from './historyRoutes';
import { versionRoutes } from './versionRoutes';
import { localOnly, notAForm, notFound, problems } from './problem';
import { shootRoutes } from './shootRoutes';
import { standingRoutes } from './standingRoutes';
import { startRoutes } from './startRoutes';
import { stayRoutes } from './stayRoutes';
import { tableRoutes } from './tableRoutes';
import { uploadRoutes } from './uploadRoutes';

/** What the application is made of. */
export interface AppParts {
  readonly workshop: ServerWorkshop;
  readonly events: EventStream;
  readonly levels: LevelStore;
  /** Folder of the built web application. */
  readonly pages: string;
  /** Name of this one run, by which `start` knows it. */
  readonly instance: string;
  readonly keys: NetworkKeys;
  /** Where it listens beside loopback. */
  readonly listening: Listening | null;
}

/** The whole HTTP side: the API below /api, the built pages elsewhere. */
export function createApp({ workshop, events, levels, pages, instance, keys, listening }: AppParts): Express {
  const app = express();
  app.disable('x-powered-by');
  const [typedKey, door] = [express.urlencoded({ extended: false, limit: '1kb' }), openDoor(keys)];
  app.use((request, response, next) => (isFromNetwork(request) ? next() : localOnly(request, response, next)));
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: { defaultSrc: ["'self'"], scriptSrc: ["'self'", "'wasm-unsafe-eval'"], workerSrc: ["'self'", 'blob:'], styleSrc: ["'self'", "'unsafe-inline'"], imgSrc: ["'self'", 'blob:', 'data:'], objectSrc: ["'none'"], baseUri: ["'self'"], frameAncestors: ["'none'"] },
      },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      strictTransportSecurity: false,
    }),
  );
  // With the headers above, also on the page that asks for a key.
  app.post('/key', typedKey);
  app.use((request, response, next) => (isFromNetwork(request) ? door(request, response, next) : next()));
  app.use('/api', notAForm);
  // Files stream through, whatever type they claim; only what is left is read as JSON.
  app.use('/api', uploadRoutes(workshop), archiveRoutes(workshop), tableRoutes(workshop), lendRoutes(workshop, keys));
  app.use('/api', express.json({ limit: '8mb' }));
  app.get('/api/health', async (_request, response) => {
    await workshop.database.query('SELECT 1');
    response.json({ ok: true, instance });
  });
  app.use('/api', shootRoutes(workshop), startRoutes(workshop), standingRoutes(workshop), stayRoutes(workshop), groupingRoutes(workshop), mixRoutes(workshop), methodRoutes(workshop), orderRoutes(workshop), versionRoutes(workshop), historyRoutes(workshop), lensRoutes(workshop), frameRoutes(workshop, levels), liveRoutes(workshop), wallRoutes(workshop), deliveryRoutes(workshop), batchRoutes(workshop), forecastRoutes(workshop), keyRoutes(keys, listening), events.router);
  app.use('/api', (_request, _response, next) => next(notFound('resource')));
  app.use(express.static(pages, { index: false, maxAge: '1h' }));
  app.get('/{*path}', (request, response, next) => {
    const page = join(pages, 'index.html');
    if (/\.[a-z0-9]+$/i.test(request.path) || !existsSync(page)) return next(notFound('page'));
    response.set('Cache-Control', 'no-cache').sendFile(page);
  });
  app.use(problems);
  return app;
}
