import { useState } from 'react';
import type { OrderName } from '../store/api';

/** Orders by name, and what they ask for, in words. */
export const ORDER_WORDS: Readonly<Record<OrderName, { readonly label: string; readonly what: string }>> = {
  full: { label: 'Full size', what: 'JPEG, full size' },
  listing: { label: 'Listing', what: 'JPEG, 4:3, 2048 × 1536, below 2 MB' },
  web: { label: 'Web', what: 'JPEG, 2048 px' },
  print: { label: 'Print', what: 'JPEG, 3:2, full size, 300 ppi' },
  master: { label: 'Master', what: '16-bit TIFF, full size' },
  linear: { label: 'Linear light', what: '32-bit float TIFF, before the display curve' },
  layers: { label: 'Layers', what: 'OpenRaster, 16 bit, a layer for each pass' },
};
export const ORDER_NAMES = Object.keys(ORDER_WORDS) as OrderName[];

const KEPT = 'zaddle-orders';

/** What somebody chose last; full size where that is nothing that is known. */
function chosenLast(): readonly OrderName[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEPT) ?? '[]');
    const known = ORDER_NAMES.filter((name) => Array.isArray(kept) && kept.includes(name));
    return known.length > 0 ? known : ['full'];
  } catch {
    return ['full'];
  }
}

/** The orders that pictures are delivered by, kept in this browser; never none. */
export function useOrders(): { readonly orders: readonly OrderName[]; readonly toggle: (name: OrderName) => void } {
  const [orders, setOrders] = useState(chosenLast);
  const toggle = (name: OrderName): void => {
    const next = ORDER_NAMES.filter((each) => (each === name ? !orders.includes(each) : orders.includes(each)));
    if (next.length === 0) return;
    localStorage.setItem(KEPT, JSON.stringify(next));
    setOrders(next);
  };
  return { orders, toggle };
}
