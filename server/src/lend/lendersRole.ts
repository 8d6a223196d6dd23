import type { EntityManager } from 'typeorm';

/** The role that all computers that lend their cores belong to: it works with what is kept, and can neither change tables nor reach anything else of the machine. */
const LENDERS = 'zaddle_lenders';

/** Tables that are none of their business. */
const NOT_THEIRS = ['network_keys', 'migrations'];

/** Makes the role where it is missing and grants it what there is now; to be called once the tables are up to date. */
export async function grantLenders(manager: EntityManager): Promise<void> {
  await manager.query(`DO $$ BEGIN IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = '${LENDERS}') THEN CREATE ROLE ${LENDERS} NOLOGIN; END IF; END $$`);
  for (const schema of ['public', 'pgboss']) {
    await manager.query(`GRANT USAGE ON SCHEMA ${schema} TO ${LENDERS}`);
    await manager.query(`GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA ${schema} TO ${LENDERS}`);
    await manager.query(`GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA ${schema} TO ${LENDERS}`);
  }
  await manager.query(`REVOKE ALL ON ${NOT_THEIRS.join()} FROM ${LENDERS}`);
}

/** Lets whoever knows a password in, with a role of its own. @param role and password of `loginOf` */
export async function admitLender(manager: EntityManager, { role, password }: { readonly role: string; readonly password: string }): Promise<void> {
  await grantLenders(manager);
  await manager.query(`CREATE ROLE ${role} LOGIN PASSWORD '${password}' IN ROLE ${LENDERS}`);
}

/** Takes a role away, and ends what it has open. */
export async function dismissLender(manager: EntityManager, role: string): Promise<void> {
  await manager.query('SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE usename = $1', [role]);
  await manager.query(`DROP ROLE IF EXISTS ${role}`);
}
