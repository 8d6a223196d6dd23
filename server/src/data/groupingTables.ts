import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Marks and exposure readings of frames, frames that were taken out, and the history of regrouping by hand. */
export class GroupingTables1764100000000 implements MigrationInterface {
  name = 'GroupingTables1764100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE frames ADD COLUMN marked boolean NOT NULL DEFAULT false, ADD COLUMN dropped boolean NOT NULL DEFAULT false, ADD COLUMN stats jsonb;
      ALTER TABLE shoots ADD COLUMN grouping_position integer NOT NULL DEFAULT 0, ADD COLUMN live boolean NOT NULL DEFAULT false;
      CREATE TABLE grouping_steps (
        shoot_id uuid NOT NULL CONSTRAINT grouping_steps_shoot REFERENCES shoots ON DELETE CASCADE, step integer NOT NULL, before jsonb NOT NULL, after jsonb NOT NULL,
        CONSTRAINT grouping_steps_key PRIMARY KEY (shoot_id, step));
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE grouping_steps; ALTER TABLE shoots DROP COLUMN grouping_position, DROP COLUMN live; ALTER TABLE frames DROP COLUMN marked, DROP COLUMN dropped, DROP COLUMN stats;`);
  }
}
