import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Small dark places of each shot's frames, by which dust on the sensor is told. */
export class DustTables1764800000000 implements MigrationInterface {
  name = 'DustTables1764800000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE shots ADD COLUMN specks jsonb NOT NULL DEFAULT '{"camera": "", "places": []}';`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE shots DROP COLUMN specks;');
  }
}
