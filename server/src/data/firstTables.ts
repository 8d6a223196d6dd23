import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Shoots, frames, shots, mixes with their history, deliveries, and the claims of workers. */
export class FirstTables1764000000000 implements MigrationInterface {
  name = 'FirstTables1764000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE shoots (
        id uuid CONSTRAINT shoots_key PRIMARY KEY, name text NOT NULL, address text NOT NULL, due_at timestamptz, created_at timestamptz NOT NULL DEFAULT now());
      CREATE TABLE shots (
        id uuid CONSTRAINT shots_key PRIMARY KEY, shoot_id uuid NOT NULL CONSTRAINT shots_shoot REFERENCES shoots ON DELETE CASCADE, position integer NOT NULL,
        label text NOT NULL, confidence double precision NOT NULL, why text NOT NULL, state text NOT NULL, readings jsonb NOT NULL);
      CREATE TABLE frames (
        id uuid CONSTRAINT frames_key PRIMARY KEY, shoot_id uuid NOT NULL CONSTRAINT frames_shoot REFERENCES shoots ON DELETE CASCADE,
        shot_id uuid CONSTRAINT frames_shot REFERENCES shots ON DELETE SET NULL, sha256 text NOT NULL, name text NOT NULL, bytes bigint NOT NULL, state text NOT NULL,
        why text NOT NULL, facts jsonb, role text NOT NULL, used boolean NOT NULL, residual_px double precision,
        CONSTRAINT frames_once UNIQUE (shoot_id, sha256));
      CREATE TABLE mixes (shot_id uuid CONSTRAINT mixes_key PRIMARY KEY CONSTRAINT mixes_shot REFERENCES shots ON DELETE CASCADE, document jsonb NOT NULL, position integer NOT NULL);
      CREATE TABLE mix_steps (
        shot_id uuid NOT NULL CONSTRAINT mix_steps_mix REFERENCES mixes ON DELETE CASCADE, step integer NOT NULL, command jsonb NOT NULL, inverse jsonb NOT NULL,
        CONSTRAINT mix_steps_key PRIMARY KEY (shot_id, step));
      CREATE TABLE deliveries (
        id uuid CONSTRAINT deliveries_key PRIMARY KEY, shot_id uuid NOT NULL CONSTRAINT deliveries_shot REFERENCES shots ON DELETE CASCADE, name text NOT NULL, quality integer NOT NULL,
        state text NOT NULL, progress double precision NOT NULL, why text NOT NULL, bytes bigint, attempts integer NOT NULL, created_at timestamptz NOT NULL DEFAULT now());
      CREATE TABLE claims (job_id uuid CONSTRAINT claims_key PRIMARY KEY, queue text NOT NULL, worker text NOT NULL, seen_at timestamptz NOT NULL);
      CREATE INDEX frames_of_shot ON frames (shot_id);
      CREATE INDEX shots_of_shoot ON shots (shoot_id, position);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE claims, deliveries, mix_steps, mixes, frames, shots, shoots');
  }
}
