import { useId } from "react";
import styled from "styled-components";

const Glass = styled.svg`
  flex: none;
`;

type Props = {
  /** 0 to 100. */
  fit: number;
  /** What the fit could be once everything is known; hatched above the fill. */
  fitHigh?: number;
  /** 0 to 100. */
  engagement: number;
  size?: number;
};

const glass = { top: 7.1, height: 15.8 };

/** A score as a lantern: oil in the glass is fit, the glow around it engagement. */
export function Lamp({ fit, fitHigh = fit, engagement, size = 30 }: Props) {
  const id = useId();
  const glow = engagement / 100;
  const fill = (fit / 100) * glass.height;
  const could = (Math.max(0, fitHigh - fit) / 100) * glass.height;
  const bottom = glass.top + glass.height;
  const spread = 1.6 + glow * 1.2;
  return (
    <Glass width={size} height={size} viewBox="0 0 30 30" role="img" aria-label={`fit ${fit}, engagement ${engagement}`}>
      <defs>
        <pattern id={`${id}h`} width="2.6" height="2.6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V3" stroke="var(--slate)" strokeWidth="1" />
        </pattern>
        <clipPath id={`${id}c`}>
          <rect x="9.6" y={glass.top} width="10.8" height={glass.height} rx="3.4" />
        </clipPath>
      </defs>
      {glow >= 0.03 && (
        <rect
          x={8.4 - spread}
          y={5.9 - spread}
          width={13.2 + spread * 2}
          height={18.2 + spread * 2}
          rx={4.4 + spread}
          fill="none"
          stroke="var(--lamp)"
          strokeWidth={0.5 + glow * 3}
          opacity={0.35 + glow * 0.65}
        />
      )}
      <rect x="9" y="6.5" width="12" height="17" rx="4" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.2" />
      <g clipPath={`url(#${id}c)`}>
        <rect x="9" y={bottom - fill} width="12" height={fill + 1} fill="var(--slate)" />
        <rect x="9" y={bottom - fill - could} width="12" height={could} fill={`url(#${id}h)`} opacity=".65" />
      </g>
      <path d="M12 4.4h6" stroke="var(--ink)" strokeWidth="1.4" />
    </Glass>
  );
}
