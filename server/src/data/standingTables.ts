import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What is delivered of a shoot as soon as it is ready. */
export class StandingTables1765600000000 implements MigrationInterface {
  name = 'StandingTables1765600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE shoots ADD COLUMN standing jsonb;');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE shoots DROP COLUMN standing;');
  }
}
