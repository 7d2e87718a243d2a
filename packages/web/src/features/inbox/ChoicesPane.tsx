import { NOTICE_WAYS, NOTICE_WHYS } from '@dystracer/core/inbox/notice'
import { useChooseWayMutation, useNoticeChoicesQuery } from './inbox.api'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Pane } from '#shared/ui/Pane'
import { Pending } from '#shared/ui/parts'
import { WAY_PHRASE, WHY_PHRASE } from './why-text'

/** By which way I am told what: on the screen, by mail (gathered into one for each item), both, or not at all. */
export function ChoicesPane() {
  const { data, error, isLoading } = useNoticeChoicesQuery()
  const [choose] = useChooseWayMutation()
  return (
    <Pane label="How you are told" title="How you are told">
      <Pending error={error} isLoading={isLoading} />
      {data && (
        <div className="px-4 py-3">
          <table className="w-full">
            <thead>
              <tr className="text-[12px] text-ink-3">
                <th className="text-left font-normal">When</th>
                {NOTICE_WAYS.map((way) => (
                  <th key={way} className="font-normal">
                    {WAY_PHRASE[way]}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {NOTICE_WHYS.map((why) => (
                <tr key={why} className="border-b border-edge-soft">
                  <th scope="row" className="py-1 text-left font-normal">
                    {WHY_PHRASE[why]}
                  </th>
                  {NOTICE_WAYS.map((way) => (
                    <td key={way} className="text-center">
                      <input
                        type="radio"
                        name={why}
                        aria-label={`${WHY_PHRASE[why]}: ${WAY_PHRASE[way]}`}
                        checked={data[why] === way}
                        onChange={() => void choose({ why, way }).then(tellRefusal)}
                      />
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2 text-[12px] text-ink-2">
            Mails are gathered: one for each item, in its own thread. Answer one, and your answer becomes a comment.
          </p>
        </div>
      )}
    </Pane>
  )
}
