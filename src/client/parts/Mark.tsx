/** Our mark: a lantern with a bow tie. */
export const Mark = ({ size = 26 }: { size?: number }) => (
  <svg width={(size * 22) / 26} height={size} viewBox="0 0 22 26" aria-hidden="true">
    <path d="M8 3.5h6M11 1v2.5" stroke="var(--ink)" strokeWidth="1.6" />
    <rect x="5" y="5.5" width="12" height="13" rx="4" fill="var(--lamp-wash)" stroke="var(--ink)" strokeWidth="1.6" />
    <path d="M11 9.2c1.7 2 2 3.2 0 5.2-2-2-1.7-3.2 0-5.2" fill="var(--lamp)" />
    <path d="M11 21.5 5.6 19v5zM11 21.5l5.4-2.5v5z" fill="var(--ink)" />
  </svg>
);
