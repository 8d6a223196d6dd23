import { useState } from 'react';
import { SHIPPED_ORDERS, type Order, type OrderFile, type OutputProfile } from '@zaddle/document';
import { useDestinationsQuery, useOrdersQuery } from '../store/api';

export const FILE_WORDS: Readonly<Record<OrderFile, string>> = { jpeg: 'JPEG', png: 'PNG', webp: 'WebP', avif: 'AVIF', tiff8: 'TIFF, 8 bit', png16: 'PNG, 16 bit', tiff16: 'TIFF, 16 bit', tiff32: 'TIFF, 32-bit float, before the display curve', radiance: 'Radiance HDR, before the display curve', openexr: 'OpenEXR, 16-bit float, before the display curve', openraster: 'OpenRaster, 16 bit, a layer for each pass' };
export const PROFILE_WORDS: Readonly<Record<OutputProfile, string>> = { srgb: 'sRGB', p3: 'Display P3', oprgb: 'opRGB, wide for print' };
export const RATIOS: readonly (readonly [string, number])[] = [['1:1', 1], ['5:4', 5 / 4], ['4:3', 4 / 3], ['3:2', 3 / 2], ['16:9', 16 / 9], ['2:1', 2]];
/** A ratio in words. */
export const ratioWords = (ratio: number): string => RATIOS.find(([, value]) => Math.abs(value - ratio) < 1e-3)?.[0] ?? `${ratio.toFixed(2)}:1`;
const bytesWords = (bytes: number): string => (bytes < 1e6 ? `${Math.round(bytes / 1000)} kB` : `${bytes / 1e6} MB`);

function sizeWords({ longerSide, megapixels, ratio }: Order): string {
  const sides = longerSide === null ? '' : ratio === null ? `${longerSide} px` : `${longerSide} × ${Math.round(longerSide / Math.max(ratio, 1 / ratio))}`;
  return [sides, megapixels === null ? '' : `${megapixels} megapixels at most`].filter(Boolean).join(', ') || 'full size';
}

/** What an order asks for, in a line of words. */
export function orderWords(order: Order): string {
  const { client, file, ratio, mostBytes, quality, profile, ppi } = order;
  return [client ? `for ${client}` : '', FILE_WORDS[file], ratio === null ? '' : ratioWords(ratio), sizeWords(order), mostBytes === null ? '' : `below ${bytesWords(mostBytes)}`, quality === null ? '' : `quality ${quality}`, profile === 'srgb' ? '' : PROFILE_WORDS[profile], ppi === null ? '' : `${ppi} ppi`].filter(Boolean).join(', ');
}

/** An order that can be chosen: one that ships, by its name, or one that is kept, by its id. */
export interface OrderOption {
  readonly id: string;
  readonly label: string;
  readonly order: Order;
  readonly ships: boolean;
}
const SHIPPED: readonly OrderOption[] = Object.entries(SHIPPED_ORDERS).map(([id, { label, order }]) => ({ id, label, order, ships: true }));
/** What an order that ships asks for. */
export const shipped = (name: string): Order | undefined => SHIPPED.find(({ id }) => id === name)?.order;

/** All orders there are: those that ship, then those that are kept. */
export function useAllOrders(): readonly OrderOption[] {
  const { data: kept = [] } = useOrdersQuery();
  return [...SHIPPED, ...kept.map(({ id, name, order }): OrderOption => ({ id, label: name, order, ships: false }))];
}

const KEPT = 'zaddle-orders';

/** What somebody chose last. */
function chosenLast(): readonly string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEPT) ?? '[]');
    return Array.isArray(kept) ? kept.filter((id) => typeof id === 'string') : [];
  } catch {
    return [];
  }
}

const FOLDER = 'zaddle-delivery-folder';
const RECEIVER = 'zaddle-receiver';

/** What pictures are delivered by, and the folder that they are put into; null: none. */
export interface OrderState {
  readonly all: readonly OrderOption[];
  readonly orders: readonly string[];
  readonly toggle: (id: string) => void;
  readonly folder: string | null;
  readonly putInto: (folder: string) => void;
  /** Whom they are sent to; null: nobody. */
  readonly receiver: string | null;
  readonly sendTo: (receiver: string | null) => void;
}

/** The orders that pictures are delivered by, kept in this browser; never none: full size where that is nothing that is known. */
export function useOrders(): OrderState {
  const all = useAllOrders();
  const [chosen, setChosen] = useState(chosenLast);
  const known = all.filter(({ id }) => chosen.includes(id)).map(({ id }) => id);
  const orders = known.length > 0 ? known : ['full'];
  const toggle = (id: string): void => {
    const next = orders.includes(id) ? orders.filter((each) => each !== id) : [...orders, id];
    if (next.length === 0) return;
    localStorage.setItem(KEPT, JSON.stringify(next));
    setChosen(next);
  };
  const [folder, setFolder] = useState(() => localStorage.getItem(FOLDER) ?? '');
  const { data: places } = useDestinationsQuery();
  const putInto = (name: string): void => {
    localStorage.setItem(FOLDER, name);
    setFolder(name);
  };
  const [receiver, setReceiver] = useState(() => localStorage.getItem(RECEIVER));
  const sendTo = (name: string | null): void => {
    if (name === null) localStorage.removeItem(RECEIVER);
    else localStorage.setItem(RECEIVER, name);
    setReceiver(name);
  };
  return { all, orders, toggle, receiver: receiver !== null && places?.receivers.includes(receiver) ? receiver : null, sendTo, folder: places?.deliverTo && folder.trim() ? folder.trim() : null, putInto };
}
