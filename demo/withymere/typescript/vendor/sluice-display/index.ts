/** Base class of everything that is shown on a lock-side display. The display calls `refresh` once a second. */
export abstract class DisplayView {
  private readonly lines: string[] = [];
  private attached = false;

  protected abstract refresh(tick: number): void;

  protected write(row: number, text: string): void {
    if (!this.attached) throw new Error('the view is not on a display');
    this.lines[row] = text.slice(0, 40);
  }

  protected blank(): void {
    this.lines.length = 0;
  }

  /** Called by the display driver only. */
  attach(driver: DisplayDriver): void {
    this.attached = true;
    driver.onTick(tick => this.refresh(tick));
  }

  shown(): readonly string[] {
    return this.lines;
  }
}

export interface DisplayDriver {
  onTick(listener: (tick: number) => void): void;
}
