/** The hatching that stands for waiting and not proven. */
export function Hatch({ id }: { id: string }) {
  return (
    <pattern id={id} width="9" height="9" patternUnits="userSpaceOnUse">
      <rect width="9" height="9" className="fill-marigold-wash" />
      <path d="M-2 2l4-4M0 9L9 0M7 11l4-4" className="stroke-marigold" strokeWidth="1" opacity="0.55" />
    </pattern>
  )
}
