import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Small pictures of shots, what people think of them, the order of the tour, and which were brought together when. */
export class WallTables1765100000000 implements MigrationInterface {
  name = 'WallTables1765100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE shots ADD COLUMN tour integer;
      CREATE TABLE shot_looks (
        shot_id uuid CONSTRAINT shot_looks_key PRIMARY KEY CONSTRAINT shot_looks_shot REFERENCES shots ON DELETE CASCADE,
        revision integer, look jsonb, tried integer NOT NULL, attempts integer NOT NULL);
      CREATE TABLE reviews (
        shot_id uuid CONSTRAINT reviews_key PRIMARY KEY CONSTRAINT reviews_shot REFERENCES shots ON DELETE CASCADE,
        state text NOT NULL CONSTRAINT reviews_state CHECK (state IN ('approved', 'sent back', 'later')), note text NOT NULL, revision integer NOT NULL, at timestamptz NOT NULL);
      CREATE TABLE set_runs (
        id uuid CONSTRAINT set_runs_key PRIMARY KEY, shoot_id uuid NOT NULL CONSTRAINT set_runs_shoot REFERENCES shoots ON DELETE CASCADE,
        shots jsonb NOT NULL, taken_back boolean NOT NULL DEFAULT false, created_at timestamptz NOT NULL DEFAULT now());
      CREATE INDEX set_runs_of_shoot ON set_runs (shoot_id, created_at);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE set_runs; DROP TABLE reviews; DROP TABLE shot_looks; ALTER TABLE shots DROP COLUMN tour;');
  }
}
