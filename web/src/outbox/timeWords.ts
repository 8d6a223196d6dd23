import dayjs from 'dayjs';

/** A span of time in as many words as are worth it: `50 s`, `4 min`, `2 h 10 min`, `3 days`. @param seconds */
export function spanWords(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  if (seconds < 55) return `${Math.max(1, Math.round(seconds / 5) * 5)} s`;
  if (minutes < 60) return `${minutes} min`;
  if (minutes < 48 * 60) return minutes % 60 < 5 || minutes >= 600 ? `${Math.round(minutes / 60)} h` : `${Math.floor(minutes / 60)} h ${Math.round((minutes % 60) / 5) * 5} min`.replace(/(\d+) h 60 min/, (_, hours) => `${Number(hours) + 1} h`);
  return `${Math.round(minutes / 1440)} days`;
}

/** A time of day, with the day where it is not today's. @param now both are milliseconds */
export function clockWords(at: number, now: number): string {
  const time = dayjs(at);
  return time.isSame(dayjs(now), 'day') ? time.format('HH:mm') : time.diff(dayjs(now), 'day') < 6 ? time.format('ddd HH:mm') : time.format('D MMM HH:mm');
}
