import { randomUUID } from 'node:crypto';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { SHIPPED_METHODS } from '@zaddle/core/method/shippedMethods';

/** Methods, those that ship among them; what shoots go on with; and when which shots were given one together. */
export class MethodTables1765000000000 implements MigrationInterface {
  name = 'MethodTables1765000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE methods (id uuid CONSTRAINT methods_key PRIMARY KEY, position integer NOT NULL, method jsonb NOT NULL, created_at timestamptz NOT NULL DEFAULT now());
      ALTER TABLE shoots ADD COLUMN method jsonb;
      CREATE TABLE method_runs (
        id uuid CONSTRAINT method_runs_key PRIMARY KEY, shoot_id uuid NOT NULL CONSTRAINT method_runs_shoot REFERENCES shoots ON DELETE CASCADE,
        choice jsonb NOT NULL, former jsonb, shots jsonb NOT NULL, taken_back boolean NOT NULL DEFAULT false, created_at timestamptz NOT NULL DEFAULT now());
      CREATE INDEX method_runs_of_shoot ON method_runs (shoot_id, created_at);
    `);
    for (const [position, method] of SHIPPED_METHODS.entries()) await runner.query('INSERT INTO methods (id, position, method) VALUES ($1, $2, $3)', [randomUUID(), position, JSON.stringify(method)]);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE method_runs; DROP TABLE methods; ALTER TABLE shoots DROP COLUMN method;');
  }
}
