/** Whole numbers below what is asked for, from a linear congruential generator: the same for the same seed. */
export function makeRandom(seed) {
  let state = seed >>> 0
  return (below) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    return Math.floor((state / 2 ** 32) * below)
  }
}
