/** What stands at the address of a guide that was withdrawn. */
export const Withdrawn = ({ title, why }: { title: string; why: string }) => (
  <article className="max-w-2xl">
    <h1 className="figure text-5xl leading-none">{title}</h1>
    <p className="mt-6 text-lamp text-xl">This guide was withdrawn.</p>
    <p className="mt-2 text-lg text-soft">{why}</p>
    <p className="mt-8">
      <a className="link" href="/guides">
        All guides
      </a>
    </p>
  </article>
)
