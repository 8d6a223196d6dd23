import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Batches that deliveries are ordered in; how long work took on this machine, and when people had a hand on which shot. */
export class BatchTables1765300000000 implements MigrationInterface {
  name = 'BatchTables1765300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE batches (id uuid CONSTRAINT batches_key PRIMARY KEY, place integer NOT NULL, paused boolean NOT NULL DEFAULT false, folder text, created_at timestamptz NOT NULL DEFAULT now());
      ALTER TABLE deliveries ADD COLUMN batch_id uuid CONSTRAINT deliveries_batch REFERENCES batches ON DELETE CASCADE, ADD COLUMN place integer NOT NULL DEFAULT 0, ADD COLUMN done_at timestamptz, ADD COLUMN lies_at text;
      WITH made AS (SELECT s.shoot_id, gen_random_uuid() AS id, min(d.created_at) AS at FROM deliveries d JOIN shots s ON s.id = d.shot_id GROUP BY s.shoot_id),
        kept AS (INSERT INTO batches (id, place, created_at) SELECT id, row_number() OVER (ORDER BY at), at FROM made)
      UPDATE deliveries d SET batch_id = made.id FROM made, shots s WHERE s.id = d.shot_id AND s.shoot_id = made.shoot_id;
      ALTER TABLE deliveries ALTER COLUMN batch_id SET NOT NULL;
      CREATE INDEX deliveries_of_batch ON deliveries (batch_id);
      CREATE TABLE work_times (id bigserial CONSTRAINT work_times_key PRIMARY KEY, kind text NOT NULL, units double precision NOT NULL, started_at timestamptz NOT NULL, ended_at timestamptz NOT NULL);
      CREATE INDEX work_times_latest ON work_times (kind, id);
      CREATE TABLE hand_moments (shot_id uuid NOT NULL CONSTRAINT hand_moments_shot REFERENCES shots ON DELETE CASCADE, at timestamptz NOT NULL, CONSTRAINT hand_moments_key PRIMARY KEY (at, shot_id));
      ALTER TABLE shoots ADD COLUMN hand_seconds double precision;
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE shoots DROP COLUMN hand_seconds; DROP TABLE hand_moments, work_times; ALTER TABLE deliveries DROP COLUMN batch_id, DROP COLUMN place, DROP COLUMN done_at, DROP COLUMN lies_at; DROP TABLE batches;');
  }
}
