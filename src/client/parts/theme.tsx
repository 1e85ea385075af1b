import { createGlobalStyle, css } from "styled-components";

const day = css`
  --paper: #f7f4ec;
  --sheet: #fffdf8;
  /* The ground of public pages, by day and by night. */
  --public: #fffdf8;
  --ink: #17222b;
  --soft: #55626c;
  --hair: #ddd6c6;
  --mark: #8b8574;
  --lamp: #c9781b;
  --lamp-ink: #8a4b08;
  --lamp-wash: #f8e7cc;
  --slate: #235a73;
  --slate-wash: #e3edf0;
  --good: #3c7350;
  --bad: #a63a2b;
  --bad-wash: #f7e4df;
  --float: 0 6px 24px #17222b26;
  /* The page of a form as visitors see it. */
  --page: #fffdf8;
  color-scheme: light;
`;

const night = css`
  --paper: #12191f;
  --sheet: #182129;
  --ink: #f1ebdd;
  --soft: #9ca7ae;
  --hair: #2c3841;
  --mark: #6b7780;
  --lamp: #e59a3c;
  --lamp-ink: #f0b566;
  --lamp-wash: #3a2b17;
  --slate: #7fb4cb;
  --slate-wash: #1e323c;
  --good: #7db892;
  --bad: #e08373;
  --bad-wash: #3a221e;
  --float: 0 6px 24px #00000080;
  --page: #fffdf8;
  color-scheme: dark;
`;

export const GlobalStyle = createGlobalStyle`
  :root { ${day} }
  @media (prefers-color-scheme: dark) { :root:not([data-theme="day"]) { ${night} } }
  :root[data-theme="night"] { ${night} }
  *, *::before, *::after { box-sizing: border-box; margin: 0; }
  html, body, #root { height: 100%; }
  body {
    background: var(--paper); color: var(--ink);
    font: 400 15px/1.45 "Hanken Grotesk Variable", system-ui, sans-serif;
    font-variant-numeric: tabular-nums;
    -webkit-font-smoothing: antialiased;
  }
  h1, h2, h3 { font-family: "Fraunces Variable", Georgia, serif; font-weight: 550; letter-spacing: -0.012em; line-height: 1.25; text-wrap: balance; }
  h1 { font-size: 24px; } h2 { font-size: 18px; } h3 { font-size: 15px; }
  h1, h2, td, dd, input, textarea { unicode-bidi: plaintext; }
  a, b, small, span { unicode-bidi: isolate; }
  a { color: var(--slate); text-decoration-thickness: 1px; text-underline-offset: 3px; }
  button, input, textarea, select { font: inherit; color: inherit; }
  :focus-visible, [data-focus-visible] { outline: 2px solid var(--slate); outline-offset: 2px; border-radius: 3px; }
  .react-aria-Select[data-focus-visible] { outline: none; } /* Its button has the ring. */
  @media (prefers-reduced-motion: reduce) { *, *::before, *::after { transition: none !important; animation: none !important; } }
`;

/** The serif for names and numerals of importance. */
export const serif = css`
  font-family: "Fraunces Variable", Georgia, serif;
  letter-spacing: -0.012em;
`;

/** Small soft text beside or under something. */
export const small = css`
  font-size: 13px;
  color: var(--soft);
`;

/** Read aloud, not shown. */
export const unseen = css`
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
  white-space: nowrap;
`;

const key = "lantern-theme";

/** Day, night, or as the system says. */
export type Theme = "day" | "night" | "system";

export const theme = (): Theme => (localStorage.getItem(key) as Theme | null) ?? "system";

export function setTheme(value: Theme) {
  localStorage.setItem(key, value);
  if (value === "system") delete document.documentElement.dataset.theme;
  else document.documentElement.dataset.theme = value;
}

setTheme(theme());
