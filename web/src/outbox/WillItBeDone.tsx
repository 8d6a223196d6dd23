import { ForecastChart } from './ForecastChart';
import { ForecastRow } from './ForecastRow';
import { useForecast } from './useForecast';

/** What each open shoot will take, against when it is due. */
export function WillItBeDone() {
  const { forecast, at } = useForecast();
  if (!forecast || forecast.shoots.length === 0) return null;
  const measured = forecast.hand.shots > 0 ? `By hand as you took for the last ${forecast.hand.shots} shots` : 'By hand as it usually takes, until two shots are approved';
  return (
    <section className="will-it" aria-label="Will it be done">
      <h2>Will it be done?</h2>
      <ForecastChart shoots={forecast.shoots} now={at} />
      {forecast.shoots.map((shoot) => <ForecastRow key={shoot.id} shoot={shoot} now={at} />)}
      <p className="why">{measured}; the machine {forecast.measured ? 'as fast as it was lately' : 'as fast as is usual, until it has done some of each kind'}. What is due first is done first.</p>
    </section>
  );
}
