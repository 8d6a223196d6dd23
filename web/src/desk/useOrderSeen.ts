import { useMemo } from 'react';
import { inOrder, orderSize } from '@zaddle/core/mix/orderMix';
import type { MixDocument } from '@zaddle/document';
import type { OrderOption, OrderState } from '../outbox/orders';
import { nextOrderSeen } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';

/** The order whose crop and size the picture is seen in, if any. */
export interface OrderSeen {
  readonly option: OrderOption | null;
  readonly all: readonly OrderOption[];
  /** Pixels of the screen for each of the picture at which one of them is one delivered; null: as it stands. */
  readonly scale: number | null;
}

/** The mix as an order shows it, and how far it is scaled. @param toNext goes through the orders that are chosen for delivery, then back */
export function useOrderSeen(mix: MixDocument, { all, orders }: Pick<OrderState, 'all' | 'orders'>): OrderSeen & { readonly shown: MixDocument; readonly toNext: () => void } {
  const dispatch = useAppDispatch();
  const id = useAppSelector((s) => s.desk.order);
  const option = all.find((each) => each.id === id) ?? null;
  const ratio = option?.order.ratio ?? null;
  const shown = useMemo(() => inOrder(mix, { ratio }), [mix, ratio]);
  const toNext = (): void => void dispatch(nextOrderSeen(orders));
  return { option, all, shown, scale: option ? orderSize(shown, option.order).scale : null, toNext };
}
