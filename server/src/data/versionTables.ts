import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Named versions of a shot's mix. They belong to the shot, so they outlive a mix that is begun anew. */
export class VersionTables1764500000000 implements MigrationInterface {
  name = 'VersionTables1764500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE mix_versions (
        id uuid PRIMARY KEY, shot_id uuid NOT NULL CONSTRAINT mix_versions_shot REFERENCES shots ON DELETE CASCADE, name text NOT NULL, document jsonb NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now());
      CREATE INDEX mix_versions_of_shot ON mix_versions (shot_id, created_at);
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE mix_versions');
  }
}
