import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Places that a person lets stay as they are. */
export class SpotTables1764700000000 implements MigrationInterface {
  name = 'SpotTables1764700000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE shots ADD COLUMN stays jsonb NOT NULL DEFAULT '[]';`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE shots DROP COLUMN stays;');
  }
}
