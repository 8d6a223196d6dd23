/** A table that holds something of a shoot, and which of its rows are a shoot's. The id of the shoot goes in. */
interface ShootTable {
  readonly table: string;
  readonly where: string;
  /** Column that rows are known by elsewhere: it gets new values in a copy. */
  readonly id: 'id' | null;
}
const OF_SHOTS = 'shot_id IN (SELECT id FROM shots WHERE shoot_id = $1)';

/** All that the database knows of a shoot, in an order in which rows can be put in. Small pictures, claims and measured times are made anew where they are needed. */
export const SHOOT_TABLES: readonly ShootTable[] = [
  { table: 'shoots', where: 'id = $1', id: 'id' },
  { table: 'shots', where: 'shoot_id = $1', id: 'id' },
  { table: 'frames', where: 'shoot_id = $1', id: 'id' },
  { table: 'mixes', where: OF_SHOTS, id: null },
  { table: 'mix_steps', where: OF_SHOTS, id: null },
  { table: 'mix_changes', where: OF_SHOTS, id: null },
  { table: 'mix_versions', where: OF_SHOTS, id: 'id' },
  { table: 'reviews', where: OF_SHOTS, id: null },
  { table: 'grouping_steps', where: 'shoot_id = $1', id: null },
  { table: 'method_runs', where: 'shoot_id = $1', id: 'id' },
  { table: 'set_runs', where: 'shoot_id = $1', id: 'id' },
  { table: 'batches', where: `id IN (SELECT batch_id FROM deliveries WHERE ${OF_SHOTS})`, id: 'id' },
  { table: 'deliveries', where: OF_SHOTS, id: 'id' },
];

/** Columns that say whose a row is: they may only name what comes along. */
export const OWNERS = ['shoot_id', 'shot_id', 'batch_id'] as const;
