import type { ReactNode } from 'react'

/** A page outside of the line, for whoever is not in yet: one sheet on paper. */
export const Doorway = ({ title, about, children }: { title: string; about?: ReactNode; children: ReactNode }) => (
  <main id="main" className="grid min-h-dvh content-start justify-items-center px-4 pt-[14vh] pb-10">
    <div className="w-full max-w-[26rem]">
      <p className="flex items-center gap-3 text-lead font-bold tracking-tight text-act">
        Gharry
        <span aria-hidden className="h-px flex-1 bg-hair" />
        <span aria-hidden className="size-2.5 rotate-45 border-2 border-act bg-sheet" />
      </p>
      <div className="mt-4 border border-hair bg-sheet px-6 py-5">
        <h1 className="text-title">{title}</h1>
        {about && <p className="mt-1 text-soft">{about}</p>}
        {children}
      </div>
    </div>
  </main>
)
