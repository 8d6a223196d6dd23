import { useForecastQuery, type Forecast } from '../store/api';

/** Milliseconds after which what is foreseen is asked for again, though nothing happened. */
const AGAIN = 15_000;

/** What is foreseen, and when it was, milliseconds: its times count from then. */
export function useForecast(): { readonly forecast: Forecast | undefined; readonly at: number } {
  const { data: forecast, fulfilledTimeStamp } = useForecastQuery(undefined, { pollingInterval: AGAIN });
  return { forecast, at: fulfilledTimeStamp ?? 0 };
}
