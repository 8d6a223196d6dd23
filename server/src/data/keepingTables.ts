import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What keeps work: shots that outlive their frames for a while, revisions of mixes, documents of deliveries, counted attempts. */
export class KeepingTables1764400000000 implements MigrationInterface {
  name = 'KeepingTables1764400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE shots ADD COLUMN retired boolean NOT NULL DEFAULT false, ADD COLUMN attempts integer NOT NULL DEFAULT 0, ADD COLUMN last_revision integer NOT NULL DEFAULT 0;
      ALTER TABLE frames ADD COLUMN attempts integer NOT NULL DEFAULT 0;
      ALTER TABLE mixes ADD COLUMN revision integer NOT NULL DEFAULT 0;
      ALTER TABLE deliveries ADD COLUMN document jsonb;
      CREATE TABLE mix_changes (
        shot_id uuid NOT NULL CONSTRAINT mix_changes_mix REFERENCES mixes ON DELETE CASCADE, revision integer NOT NULL, request uuid, editor uuid, touched jsonb NOT NULL,
        CONSTRAINT mix_changes_key PRIMARY KEY (shot_id, revision), CONSTRAINT mix_changes_once UNIQUE (shot_id, request));
      CREATE INDEX frames_of_shoot ON frames (shoot_id, state);
      CREATE INDEX frames_of_file ON frames (sha256);
      CREATE INDEX deliveries_of_shot ON deliveries (shot_id);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`
      DROP INDEX frames_of_shoot, frames_of_file, deliveries_of_shot; DROP TABLE mix_changes; ALTER TABLE deliveries DROP COLUMN document; ALTER TABLE mixes DROP COLUMN revision;
      ALTER TABLE frames DROP COLUMN attempts; ALTER TABLE shots DROP COLUMN retired, DROP COLUMN attempts, DROP COLUMN last_revision;
    `);
  }
}
