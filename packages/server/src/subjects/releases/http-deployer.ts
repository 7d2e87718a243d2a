import { askOutside, type Outside } from '#platform/ask-outside'
import type { Deployer } from './deployer.js'

/** A deployer behind its adapter (docs/guides/write-an-adapter.md). */
export function makeHttpDeployer(outside: Outside): Deployer {
  return {
    deploy: async (input) => {
      await askOutside(outside, '/api/deployments', input)
    },
  }
}
