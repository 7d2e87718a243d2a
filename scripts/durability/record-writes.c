/*
 * Records what a program writes below one folder, and when it asks the disk to keep it: loaded before libc by the loader (LD_PRELOAD). Each
 * write, truncation, sync, creation, renaming and removal becomes a record in one log, in the order in which they happened, whichever thread
 * did them. power-cut.mjs plays the log back up to some moment and leaves out what no sync had reached.
 *
 * POWER_CUT_FOLDER: the folder that is watched. POWER_CUT_LOG: the log. Without them nothing is recorded.
 *
 * A record: op (1), time in ns of CLOCK_MONOTONIC (8), offset (8), length of the path (4), length of the data (4), path, data; little-endian.
 */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <fcntl.h>
#include <limits.h>
#include <pthread.h>
#include <stdarg.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>
#include <sys/syscall.h>
#include <sys/uio.h>
#include <time.h>
#include <unistd.h>

#define FDS 4096
static char *paths[FDS];
static const char *folder;
static size_t folder_length;
static int log_fd = -1;
static pthread_mutex_t lock = PTHREAD_MUTEX_INITIALIZER;

__attribute__((constructor)) static void begin(void) {
  folder = getenv("POWER_CUT_FOLDER");
  const char *log = getenv("POWER_CUT_LOG");
  if (!folder || !log) return;
  folder_length = strlen(folder);
  log_fd = (int)syscall(SYS_openat, AT_FDCWD, log, O_WRONLY | O_CREAT | O_APPEND | O_CLOEXEC, 0600);
}

static void *next(const char *name) { return dlsym(RTLD_NEXT, name); }
static int is_watched(const char *path) { return log_fd >= 0 && path && strncmp(path, folder, folder_length) == 0; }
static const char *path_of(int fd) { return fd >= 0 && fd < FDS && log_fd >= 0 ? paths[fd] : NULL; }

/* Called with the lock held, so that the log has the order in which things happened. */
static void note(char op, const char *path, int64_t offset, const void *data, uint32_t length) {
  struct timespec now;
  clock_gettime(CLOCK_MONOTONIC, &now);
  int64_t at = (int64_t)now.tv_sec * 1000000000 + now.tv_nsec;
  uint32_t path_length = (uint32_t)strlen(path);
  char head[25];
  head[0] = op;
  memcpy(head + 1, &at, 8);
  memcpy(head + 9, &offset, 8);
  memcpy(head + 17, &path_length, 4);
  memcpy(head + 21, &length, 4);
  struct iovec parts[3] = {{head, 25}, {(void *)path, path_length}, {(void *)data, length}};
  syscall(SYS_writev, log_fd, parts, length > 0 ? 3 : 2);
}

static void opened(int fd, const char *path, int is_new) {
  if (fd < 0 || fd >= FDS) return;
  char *whole = NULL;
  char place[PATH_MAX];
  if (log_fd >= 0 && realpath(path, place) && is_watched(place)) whole = strdup(place);
  pthread_mutex_lock(&lock);
  free(paths[fd]);
  paths[fd] = whole;
  if (whole && is_new) note('C', whole, 0, NULL, 0);
  pthread_mutex_unlock(&lock);
}

#define OPEN(name)                                                                       \
  int name(const char *path, int flags, ...) {                                           \
    static int (*real)(const char *, int, ...);                                          \
    if (!real) real = next(#name);                                                       \
    va_list rest;                                                                        \
    va_start(rest, flags);                                                               \
    mode_t mode = flags & (O_CREAT | O_TMPFILE) ? va_arg(rest, mode_t) : 0;              \
    va_end(rest);                                                                        \
    int is_new = (flags & O_CREAT) && access(path, F_OK) != 0;                           \
    int fd = real(path, flags, mode);                                                    \
    opened(fd, path, is_new || (flags & O_TRUNC));                                       \
    return fd;                                                                           \
  }
OPEN(open)
OPEN(open64)

int close(int fd) {
  static int (*real)(int);
  if (!real) real = next("close");
  if (path_of(fd)) {
    pthread_mutex_lock(&lock);
    free(paths[fd]);
    paths[fd] = NULL;
    pthread_mutex_unlock(&lock);
  }
  return real(fd);
}

#define PWRITE(name, offset_type)                                                        \
  ssize_t name(int fd, const void *data, size_t length, offset_type offset) {            \
    static ssize_t (*real)(int, const void *, size_t, offset_type);                      \
    if (!real) real = next(#name);                                                       \
    if (!path_of(fd)) return real(fd, data, length, offset);                             \
    pthread_mutex_lock(&lock);                                                           \
    ssize_t done = real(fd, data, length, offset);                                       \
    if (done > 0) note('W', paths[fd], offset, data, (uint32_t)done);                    \
    pthread_mutex_unlock(&lock);                                                         \
    return done;                                                                         \
  }
PWRITE(pwrite, off_t)
PWRITE(pwrite64, off64_t)

ssize_t write(int fd, const void *data, size_t length) {
  static ssize_t (*real)(int, const void *, size_t);
  if (!real) real = next("write");
  if (!path_of(fd)) return real(fd, data, length);
  pthread_mutex_lock(&lock);
  ssize_t done = real(fd, data, length);
  /* Where it stands afterwards says where it was written, also for what is appended; what cannot stand anywhere is no file. */
  off_t end = done > 0 ? lseek(fd, 0, SEEK_CUR) : -1;
  if (end >= 0) note('W', paths[fd], end - done, data, (uint32_t)done);
  pthread_mutex_unlock(&lock);
  return done;
}

ssize_t writev(int fd, const struct iovec *parts, int count) {
  static ssize_t (*real)(int, const struct iovec *, int);
  if (!real) real = next("writev");
  if (!path_of(fd)) return real(fd, parts, count);
  ssize_t whole = 0;
  for (int at = 0; at < count; at++) {
    ssize_t done = write(fd, parts[at].iov_base, parts[at].iov_len);
    if (done < 0) return whole > 0 ? whole : done;
    whole += done;
    if ((size_t)done < parts[at].iov_len) break;
  }
  return whole;
}

#define TRUNCATE(name, size_type)                                                        \
  int name(int fd, size_type size) {                                                     \
    static int (*real)(int, size_type);                                                  \
    if (!real) real = next(#name);                                                       \
    if (!path_of(fd)) return real(fd, size);                                             \
    pthread_mutex_lock(&lock);                                                           \
    int done = real(fd, size);                                                           \
    if (done == 0) note('T', paths[fd], size, NULL, 0);                                  \
    pthread_mutex_unlock(&lock);                                                         \
    return done;                                                                         \
  }
TRUNCATE(ftruncate, off_t)
TRUNCATE(ftruncate64, off64_t)

/* A sync is noted once it is done: until then nothing may rely on it. */
#define SYNC(name)                                                                       \
  int name(int fd) {                                                                     \
    static int (*real)(int);                                                             \
    if (!real) real = next(#name);                                                       \
    if (!path_of(fd)) return real(fd);                                                   \
    pthread_mutex_lock(&lock);                                                           \
    int done = real(fd);                                                                 \
    if (done == 0) note('S', paths[fd], 0, NULL, 0);                                     \
    pthread_mutex_unlock(&lock);                                                         \
    return done;                                                                         \
  }
SYNC(fsync)
SYNC(fdatasync)

int rename(const char *from, const char *to) {
  static int (*real)(const char *, const char *);
  if (!real) real = next("rename");
  pthread_mutex_lock(&lock);
  int done = real(from, to);
  if (done == 0 && is_watched(from) && is_watched(to)) note('R', from, 0, to, (uint32_t)strlen(to));
  pthread_mutex_unlock(&lock);
  return done;
}

int unlink(const char *path) {
  static int (*real)(const char *);
  if (!real) real = next("unlink");
  pthread_mutex_lock(&lock);
  int done = real(path);
  if (done == 0 && is_watched(path)) note('U', path, 0, NULL, 0);
  pthread_mutex_unlock(&lock);
  return done;
}
