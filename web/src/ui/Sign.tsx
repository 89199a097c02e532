/** Four staggered rungs, fading. */
export function Sign() {
  return (
    <svg viewBox="0 0 26 22" className="h-[22px] w-[26px] fill-accent" aria-hidden="true">
      <rect width="15" height="4" />
      <rect x="4" y="6" width="15" height="4" opacity=".75" />
      <rect x="2" y="12" width="17" height="4" opacity=".5" />
      <rect x="9" y="18" width="15" height="4" opacity=".3" />
    </svg>
  );
}
