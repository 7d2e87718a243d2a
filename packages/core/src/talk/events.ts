/** The journal's events of talk and their bodies. */
export interface TalkEvents {
  'comment-added': { commentId: string; key: string; text: string; replyTo?: string; from?: string }
  'comment-edited': { commentId: string; key: string; text: string; before: string }
  'comment-reacted': { commentId: string; key: string; reaction: string; isOn: boolean }
  'attachment-added': {
    attachmentId: string
    key: string
    name: string
    mediaType: string
    sizeBytes: number
    sha256: string
    hasThumbnail: boolean
  }
  /** A picture that a text of a project shows: a remark, a note, a result of a test by hand. */
  'picture-kept': { pictureId: string; project: string; name: string; mediaType: string; sizeBytes: number; sha256: string }
  'attachment-removed': { attachmentId: string; key: string; name: string }
  'time-taken-back': { entryId: string; key: string; minutes: number }
  'time-booked': { entryId: string; key: string; personId: string; minutes: number; onDay: string; provenance: string }
}
