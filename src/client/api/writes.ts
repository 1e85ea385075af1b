type Sent = { key: string; sentAt: number; answeredAt?: number };

// So soon after its answer, the very same again is a second press, not a second wish.
const secondPress = 1500;

// So long a write without an answer may be sent again under its key; the server keeps what it did longer.
const keptFor = 10 * 60_000;

// In characters. What is longer than that, such as a file, is told apart by its own key.
const longest = 100_000;

/**
 * The writes sent lately, each with its key. The very same write (method, address and body) has the same key until it is answered, and a moment longer: pressed twice, or again after
 * the line was lost, it is done once.
 */
export class Writes {
  private readonly sent = new Map<string, Sent>();

  constructor(private readonly now: () => number = Date.now) {}

  /** The key the write goes with. */
  keyOf(write: string): string {
    if (write.length > longest) return crypto.randomUUID();
    this.forgetOld();
    const known = this.sent.get(write);
    if (known) return known.key;
    const key = crypto.randomUUID();
    this.sent.set(write, { key, sentAt: this.now() });
    return key;
  }

  /** The write with this key is done or refused. */
  answered(key: string) {
    for (const sent of this.sent.values()) if (sent.key === key) sent.answeredAt = this.now();
  }

  private forgetOld() {
    const now = this.now();
    for (const [write, { sentAt, answeredAt }] of this.sent) if (answeredAt === undefined ? now - sentAt >= keptFor : now - answeredAt >= secondPress) this.sent.delete(write);
  }
}
