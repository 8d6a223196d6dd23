import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Orders that people keep, and with each delivery the order as it was then. */
export class KeptOrderTables1765200000000 implements MigrationInterface {
  name = 'KeptOrderTables1765200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE orders (id uuid CONSTRAINT orders_key PRIMARY KEY, name text NOT NULL, asked jsonb NOT NULL, created_at timestamptz NOT NULL DEFAULT now());
      CREATE UNIQUE INDEX orders_name ON orders (lower(name));
      ALTER TABLE deliveries ADD COLUMN asked jsonb;
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE deliveries DROP COLUMN asked; DROP TABLE orders;');
  }
}
