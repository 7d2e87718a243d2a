import { workIn } from '#shared/lib/current-project'
import { useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button, SectionHead } from '#shared/ui/parts'

/** The projects, and which of them one works in. */
export function Projects() {
  const { me, may } = usePeople()
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  if (!me) return null
  return (
    <section aria-label="Projects">
      <SectionHead>Projects</SectionHead>
      <ul className="m-0 list-none p-0">
        {me.projects.map((project) => (
          <li key={project.prefix} className="flex items-center gap-3 py-0.5">
            <span className="w-[64px] font-mono text-[12px] text-ink-2">{project.prefix}</span>
            <span className="w-[180px] truncate">{project.name}</span>
            {project.prefix === me.project.prefix ? (
              <span className="text-[12px] text-ink-2">you work here</span>
            ) : (
              <Button look="line" onClick={() => workIn(project.prefix, dispatch)}>
                Work in {project.name}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {may('projects.make') && (
        <Button look="line" onClick={() => trail.open({ kind: 'new-project', id: '' })}>
          New project…
        </Button>
      )}
    </section>
  )
}
