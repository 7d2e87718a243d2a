export { DISPOSITION_CHOICES, RejectDialog, type Rejection } from './RejectDialog'
