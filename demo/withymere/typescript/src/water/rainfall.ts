/** Rain of the last days, as a forecast for the feeder streams. */
export class Rainfall {
  private readonly days: number[] = [];

  add(millimetres: number): void {
    if (millimetres < 0) throw new RangeError('it does not rain upward');
    this.days.push(millimetres);
    if (this.days.length > 14) this.days.shift();
  }

  wetness(): number {
    let weight = 1;
    let sum = 0;
    for (let at = this.days.length - 1; at >= 0; at -= 1) {
      sum += this.days[at]! * weight;
      weight *= 0.8;
    }
    return Math.round(sum * 10) / 10;
  }

  dry(): boolean {
    return this.days.slice(-7).every(day => day < 1);
  }
}
