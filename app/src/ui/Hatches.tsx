/** Textures shared by all drawings: outages and losses in red, missing data in rule colour. */
export function Hatches() {
  return (
    <svg width="0" height="0" aria-hidden className="absolute">
      <defs>
        <pattern
          id="hatch-red"
          width="4"
          height="4"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <path d="M0 0V4" stroke="var(--red)" strokeWidth="1.6" />
        </pattern>
        <pattern
          id="hatch-missing"
          width="5"
          height="5"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(-45)"
        >
          <path d="M0 0V5" stroke="var(--faint)" strokeWidth="0.9" strokeOpacity="0.65" />
        </pattern>
        <pattern id="dots-solar" width="5" height="5" patternUnits="userSpaceOnUse">
          <circle cx="1.5" cy="1.5" r="0.9" fill="var(--solar)" />
        </pattern>
      </defs>
    </svg>
  );
}
