import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How well a frame is lined up, part by part. */
export class PartTables1764300000000 implements MigrationInterface {
  name = 'PartTables1764300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE frames ADD COLUMN parts jsonb NOT NULL DEFAULT '[]';`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE frames DROP COLUMN parts;');
  }
}
