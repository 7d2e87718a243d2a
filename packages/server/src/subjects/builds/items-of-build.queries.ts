// Of itemsOfBuild; by pull_request_head.
export const LIST_PULL_REQUEST_BY_REPOSITORY_AND_BRANCH =
  'SELECT number FROM pull_request WHERE repository = @repository AND head = @branch'
