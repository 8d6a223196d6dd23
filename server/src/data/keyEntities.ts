import { EntitySchema } from 'typeorm';

/** What a key is good for: the pages, as on this machine, or work that a computer lends its cores to. */
export type Opens = 'pages' | 'work';

/** A key for use over a network; the key itself is known to whoever has it only. */
export interface NetworkKey {
  id: string;
  /** Whose it is, as a person called it. */
  name: string;
  opens: Opens;
  /** SHA-256 of the key. */
  hash: string;
  madeAt: Date;
  usedAt: Date | null;
  /** The computer that used it last, by its own name. */
  usedBy: string;
}

export const NetworkKeyEntity = new EntitySchema<NetworkKey>({
  name: 'NetworkKey', tableName: 'network_keys',
  columns: {
    id: { type: 'uuid', primary: true }, name: { type: 'text' }, opens: { type: 'text' }, hash: { type: 'text', select: false },
    madeAt: { type: 'timestamptz', name: 'made_at', createDate: true }, usedAt: { type: 'timestamptz', name: 'used_at', nullable: true }, usedBy: { type: 'text', name: 'used_by', default: '' },
  },
});
