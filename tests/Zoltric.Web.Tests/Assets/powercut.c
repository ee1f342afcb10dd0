/*
 * What a pulled plug leaves. Loaded before the C library into a server under test (LD_PRELOAD), it takes a copy of a file of the database
 * at every flush of it: what was written and never flushed is in no copy, as it may be on no disk.
 * POWERCUT_FILE is the database; its log (-wal) is followed likewise. Copies stand beside it as NAME.durable.
 */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <fcntl.h>
#include <pthread.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

static pthread_mutex_t one = PTHREAD_MUTEX_INITIALIZER;

static void keep(const char *name)
{
    char to[4200], half[4200], buffer[65536];
    snprintf(to, sizeof to, "%s.durable", name);
    snprintf(half, sizeof half, "%s.half", name);
    int in = open(name, O_RDONLY), out = open(half, O_WRONLY | O_CREAT | O_TRUNC, 0600);
    ssize_t n = -1;
    if (in >= 0 && out >= 0)
        while ((n = read(in, buffer, sizeof buffer)) > 0)
            if (write(out, buffer, n) != n)
                break;
    if (in >= 0)
        close(in);
    if (out >= 0)
        close(out);
    if (n == 0)
        rename(half, to);
}

static void flushed(int fd)
{
    const char *file = getenv("POWERCUT_FILE");
    char link[64], name[4096];
    snprintf(link, sizeof link, "/proc/self/fd/%d", fd);
    ssize_t n = readlink(link, name, sizeof name - 1);
    if (!file || n < 0)
        return;
    name[n] = 0;
    size_t stem = strlen(file);
    if (strncmp(name, file, stem) || (name[stem] && strcmp(name + stem, "-wal")))
        return;
    pthread_mutex_lock(&one);
    keep(name);
    pthread_mutex_unlock(&one);
}

int fsync(int fd)
{
    int done = ((int (*)(int))dlsym(RTLD_NEXT, "fsync"))(fd);
    if (done == 0)
        flushed(fd);
    return done;
}

int fdatasync(int fd)
{
    int done = ((int (*)(int))dlsym(RTLD_NEXT, "fdatasync"))(fd);
    if (done == 0)
        flushed(fd);
    return done;
}
