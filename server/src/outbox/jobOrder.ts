import type { EntityManager } from 'typeorm';

/** Most deliveries that one batch holds: their turns lie between those of the batches before and after. */
export const MOST_IN_BATCH = 10_000;

/** Turn of a delivery in the queue, higher first: batch after batch, picture after picture. */
const TURN = `-(b.place * ${MOST_IN_BATCH} + d.place)`;

/** Brings waiting jobs into the order of their batches and of the pictures within. To be called in the transaction that changes either, or queues one. */
export async function orderJobs(manager: EntityManager): Promise<void> {
  await manager.query(`
    UPDATE pgboss.job j SET priority = ${TURN} FROM deliveries d JOIN batches b ON b.id = d.batch_id
    WHERE j.name = 'deliver' AND j.singleton_key = d.id::text AND j.state IN ('created', 'retry') AND j.priority <> ${TURN}`);
}

/** Takes waiting jobs of a batch off the queue. What is being made is not touched. */
export async function dropJobs(manager: EntityManager, batch: string): Promise<void> {
  await manager.query(`DELETE FROM pgboss.job j USING deliveries d WHERE j.name = 'deliver' AND j.singleton_key = d.id::text AND j.state IN ('created', 'retry') AND d.batch_id = $1`, [batch]);
}
