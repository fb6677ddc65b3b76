/** What is said in words, with what matters most in bold. */
export const Said = ({ spans }: { spans: { text: string; strong?: boolean }[] | null }) =>
  spans?.map((span, i) =>
    span.strong ? (
      <strong key={i} className="font-semibold">
        {span.text}
      </strong>
    ) : (
      <span key={i}>{span.text}</span>
    ),
  )
