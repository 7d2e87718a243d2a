/** What each table of the main database is (rule 18). `verify` rebuilds the projections from the journal and compares them. */
export const TABLE_CLASSES = {
  projection: [
    'journal_subject', 'project', 'key_prefix', 'person', 'membership', 'component', 'requirement', 'requirement_revision', 'item', 'claim', 'comment', 'time_entry', 'link_assertion',
    'link_veto', 'repository', 'git_ref', 'pull_request', 'build', 'test_result', 'service', 'environment', 'release', 'deployment', 'fault', 'intake_rule', 'rule_firing',
  ],
  cache: ['git_commit', 'repository_state', 'item_search'],
  secret: ['credential', 'session', 'access_token', 'secret'],
  source: ['journal', 'meta'],
} as const
