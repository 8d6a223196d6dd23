import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the shots of a shoot begin with. */
export class StartTables1764600000000 implements MigrationInterface {
  name = 'StartTables1764600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE shoots ADD COLUMN start text NOT NULL DEFAULT 'even';`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE shoots DROP COLUMN start;');
  }
}
