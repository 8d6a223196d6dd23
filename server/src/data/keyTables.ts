import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Keys for use over a network. */
export class KeyTables1765700000000 implements MigrationInterface {
  name = 'KeyTables1765700000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE network_keys (
        id uuid PRIMARY KEY,
        name text NOT NULL,
        opens text NOT NULL CHECK (opens IN ('pages', 'work')),
        hash text NOT NULL,
        made_at timestamptz NOT NULL DEFAULT now(),
        used_at timestamptz,
        used_by text NOT NULL DEFAULT ''
      );`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE network_keys;');
  }
}
