import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What is known of a camera with a lens at a focal length. */
export class LensTables1764200000000 implements MigrationInterface {
  name = 'LensTables1764200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE lens_profiles (
        camera text NOT NULL, lens text NOT NULL, focal_length double precision NOT NULL, optics jsonb NOT NULL, response jsonb NOT NULL, kept_at timestamptz NOT NULL DEFAULT now(),
        CONSTRAINT lens_profiles_key PRIMARY KEY (camera, lens, focal_length));
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE lens_profiles;');
  }
}
