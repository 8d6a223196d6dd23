import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What pictures show, by which shots of one room are told. */
export class ViewTables1765800000000 implements MigrationInterface {
  name = 'ViewTables1765800000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE shot_views (
        shot_id uuid CONSTRAINT shot_views_key PRIMARY KEY CONSTRAINT shot_views_shot REFERENCES shots ON DELETE CASCADE,
        features bytea NOT NULL, shows jsonb NOT NULL DEFAULT '{}');`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE shot_views;');
  }
}
