import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Where batches are sent, and how far that is for each delivery. */
export class ReceiverTables1765400000000 implements MigrationInterface {
  name = 'ReceiverTables1765400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      ALTER TABLE batches ADD COLUMN receiver text;
      ALTER TABLE deliveries ADD COLUMN sending text, ADD COLUMN sending_why text NOT NULL DEFAULT '', ADD COLUMN sending_times integer NOT NULL DEFAULT 0, ADD COLUMN upload_url text, ADD COLUMN sent_at timestamptz;
    `);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE deliveries DROP COLUMN sending, DROP COLUMN sending_why, DROP COLUMN sending_times, DROP COLUMN upload_url, DROP COLUMN sent_at; ALTER TABLE batches DROP COLUMN receiver;');
  }
}
