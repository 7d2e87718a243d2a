const TOLD = 'told-'

/** The id of a deployment that nobody asked for before somebody said that it runs. */
export function toldDeploymentId(id: string): string {
  return `${TOLD}${id}`
}

/** Whether a deployment is known by that alone: taken back, nothing is left of it. */
export function isToldDeployment(deploymentId: string): boolean {
  return deploymentId.startsWith(TOLD)
}
