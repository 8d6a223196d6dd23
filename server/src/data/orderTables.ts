import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a delivery was ordered as. */
export class OrderTables1764900000000 implements MigrationInterface {
  name = 'OrderTables1764900000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE deliveries ADD COLUMN ordered_as text NOT NULL DEFAULT 'full';`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE deliveries DROP COLUMN ordered_as;');
  }
}
