/** The ridge of the path, without its stops: decoration behind a title. */
export function Ridge() {
  return (
    <svg className="home-ridge" viewBox="0 0 1280 190" preserveAspectRatio="none" aria-hidden>
      <path
        d="M0 120 130 92 210 118 330 60 450 104 560 44 660 96 800 30 930 90 1060 62 1180 100 1280 80V190H0Z"
        fill="var(--glacier)"
        fillOpacity={0.06}
      />
      <path
        d="M0 120 130 92 210 118 330 60 450 104 560 44 660 96 800 30 930 90 1060 62 1180 100 1280 80"
        fill="none"
        stroke="var(--line)"
        strokeWidth={2}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}
