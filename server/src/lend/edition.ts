import { FOUND_VERSION } from '@zaddle/core/found/storedFound';
import { CURRENT_VERSION } from '@zaddle/document';

/** What two computers must have in common to work on the same things: what documents, findings and tables are like. */
export const editionOf = ({ migrations }: { readonly migrations: readonly unknown[] }): string => [CURRENT_VERSION, FOUND_VERSION, migrations.length].join('.');
