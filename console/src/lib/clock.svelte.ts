/** The time for "3 min ago", moved every few seconds for the whole page at once. */
class Clock {
  now = $state(Date.now());

  start(): void {
    setInterval(() => (this.now = Date.now()), 5000);
  }
}

export const clock = new Clock();
