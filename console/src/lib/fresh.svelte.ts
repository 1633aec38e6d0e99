/** Asks who one is once more, where a call takes secrets out or widens trust. One question at a time; calls wait for its answer. */
class Fresh {
  asking = $state(false);
  private waiting: ((proven: boolean) => void)[] = [];

  /** Whether the person proved who they are; false when they closed the question. */
  ask(): Promise<boolean> {
    this.asking = true;
    return new Promise((resolve) => this.waiting.push(resolve));
  }

  answer(proven: boolean): void {
    this.asking = false;
    this.waiting.splice(0).forEach((resolve) => resolve(proven));
  }
}

export const fresh = new Fresh();
