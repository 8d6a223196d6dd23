import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Colour tables by the digests of their files. */
export class ColourTables1765500000000 implements MigrationInterface {
  name = 'ColourTables1765500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('CREATE TABLE colour_tables (digest text CONSTRAINT colour_tables_key PRIMARY KEY, name text NOT NULL, what text NOT NULL, body text NOT NULL, created_at timestamptz NOT NULL DEFAULT now());');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE colour_tables;');
  }
}
