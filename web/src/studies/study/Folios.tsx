import { Link } from "wouter";
import type { StudyState } from "../../api/generated";
import { BeginFolio } from "../BeginFolio";

/** The folios of a study. */
export function Folios({ study, changing }: { study: StudyState; changing: boolean }) {
  return (
    <section aria-label="Folios" className="mt-5">
      <h2 className="text-lg font-bold">Folios</h2>
      {study.folios.length === 0 && (
        <p className="mt-1 text-muted">
          None yet. A folio is a page of lettered figures for a publication, in one house style.
        </p>
      )}
      <ul className="mt-2 flex flex-wrap gap-x-6 gap-y-1">
        {study.folios.map((folio) => (
          <li key={folio.id}>
            <Link href={`/folios/${folio.id}`} className="font-bold text-petrol hover:underline">
              {folio.name}
            </Link>
          </li>
        ))}
        {changing && study.comparisons.length > 0 && (
          <li>
            <BeginFolio study={study.id} />
          </li>
        )}
      </ul>
    </section>
  );
}
