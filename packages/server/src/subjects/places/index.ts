// What other subjects may use of places.
export {
  agreedTo,
  authorsOnTheirWay,
  gatesOfPlace,
  judgeOnItsWay,
  type OnItsWay,
  checkedFor,
  passOf,
  runningIn,
} from './place-gates.js'
