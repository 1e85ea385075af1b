import { Ticks } from "../parts/Ticks";

const days = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"].map((label, i) => ({ key: String(1 << i), label }));

/** The days of the week that somebody works, as bits: Monday is 1. */
export function WorkDays({ value, onChange, error }: { value: number; onChange: (bits: number) => void; error?: string }) {
  const chosen = days.filter((d) => (value & Number(d.key)) !== 0).map((d) => d.key);
  return <Ticks label="On" options={days} value={chosen} onChange={(keys) => onChange(keys.reduce((sum, k) => sum + Number(k), 0))} error={error} />;
}
