export enum Severity {
  Calm = 'calm',
  Watch = 'watch',
  Danger = 'danger',
}

export function louder(a: Severity, b: Severity): Severity {
  const order = [Severity.Calm, Severity.Watch, Severity.Danger];
  return order.indexOf(a) >= order.indexOf(b) ? a : b;
}
