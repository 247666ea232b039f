/** Names by number, each once. It only grows, so that what was numbered by it stays right in every later model that shares it. */
export class NameTable {
  private readonly names: string[] = ['']
  private readonly numbers = new Map<string, number>([['', 0]])

  numberOf(name: string): number {
    let number = this.numbers.get(name)
    if (number === undefined) {
      number = this.names.length
      this.names.push(name)
      this.numbers.set(name, number)
    }
    return number
  }

  at(number: number): string { return this.names[number]! }
}
