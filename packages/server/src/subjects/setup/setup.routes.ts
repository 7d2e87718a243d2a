import type { ServiceContext } from '#platform/context'
import type { Api } from '#platform/http/api'
import type { Who } from '@dystracer/core/people/who'
import { addComponent, removeComponent } from './components.commands.js'
import {
  readSetup,
  defineType,
  defineOwnField,
  setStageRule,
  renameProject,
  setPublicForm,
  setLimit,
  removeType,
  removeOwnField,
  removeMilestone,
  orderOwnFields,
  setMilestone,
  colourLabel,
} from './setup.commands.js'
import { type ProjectSetup, setupOperations } from '@dystracer/core/setup/wire'

/** A handler that changes how the project of the path is set up and answers with all of it. */
function thenSetup<Body>(change: (ctx: ServiceContext, who: Who, project: string, body: Body) => void) {
  return ({ ctx, who, params, body }: { ctx: ServiceContext; who: Who; params: Record<string, string>; body: Body }): ProjectSetup => {
    change(ctx, who, params.project ?? '', body)
    return readSetup(ctx.db, params.project ?? '')
  }
}

export function addSetupRoutes(api: Api): void {
  api.handle(setupOperations.setComponent, ({ ctx, who, params, body }) => {
    const project = params.project
    addComponent(ctx, who, project, body)
    return readSetup(ctx.db, project)
  })
  api.handle(setupOperations.readSetup, ({ ctx, params }) => readSetup(ctx.db, params.project))
  api.handle(setupOperations.defineType, thenSetup(defineType))
  api.handle(setupOperations.defineOwnField, thenSetup(defineOwnField))
  api.handle(setupOperations.setStageRule, thenSetup(setStageRule))
  api.handle(
    setupOperations.setPublicForm,
    thenSetup((ctx, who, project, body) => setPublicForm(ctx, who, project, body.isOn)),
  )
  api.handle(setupOperations.renameProject, thenSetup(renameProject))
  api.handle(setupOperations.setLimit, thenSetup(setLimit))
  api.handle(setupOperations.removeType, ({ ctx, who, params }) => {
    removeType(ctx, who, params.project, params.type)
    return readSetup(ctx.db, params.project)
  })
  api.handle(setupOperations.removeOwnField, ({ ctx, who, params }) => {
    removeOwnField(ctx, who, params.project, params.fieldId)
    return readSetup(ctx.db, params.project)
  })
  api.handle(setupOperations.removeMilestone, ({ ctx, who, params }) => {
    removeMilestone(ctx, who, params.project, params.name)
    return readSetup(ctx.db, params.project)
  })
  api.handle(setupOperations.removeComponent, ({ ctx, who, params }) => {
    removeComponent(ctx, who, params.project, params.name)
    return readSetup(ctx.db, params.project)
  })
  api.handle(setupOperations.orderOwnFields, thenSetup(orderOwnFields))
  api.handle(setupOperations.setMilestone, thenSetup(setMilestone))
  api.handle(setupOperations.colourLabel, thenSetup(colourLabel))
}
