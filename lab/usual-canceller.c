/* The echo canceller that Debian brings (libspeexdsp), with its suppressor of what is left: what ours is compared with.
 * cc -O2 -o usual-canceller usual-canceller.c -ldl; usual-canceller LIBRARY FRAME TAIL < in > out
 * in: microphone and what was sent, samples of 16 bits in turn, 48 kHz; out: one channel. */
#include <dlfcn.h>
#include <stdio.h>
#include <stdlib.h>

enum { SET_RATE = 24, SET_DENOISE = 0, SET_ECHO_STATE = 24 };

int main(int count, char **words) {
  if (count != 4) return 1;
  void *library = dlopen(words[1], RTLD_NOW);
  if (!library) return 2;
  void *(*init)(int, int) = (void *(*)(int, int))dlsym(library, "speex_echo_state_init");
  int (*control)(void *, int, void *) = (int (*)(void *, int, void *))dlsym(library, "speex_echo_ctl");
  void (*cancel)(void *, const short *, const short *, short *) = (void (*)(void *, const short *, const short *, short *))dlsym(library, "speex_echo_cancellation");
  void *(*pre_init)(int, int) = (void *(*)(int, int))dlsym(library, "speex_preprocess_state_init");
  int (*pre_control)(void *, int, void *) = (int (*)(void *, int, void *))dlsym(library, "speex_preprocess_ctl");
  int (*pre_run)(void *, short *) = (int (*)(void *, short *))dlsym(library, "speex_preprocess_run");
  if (!init || !control || !cancel || !pre_init || !pre_control || !pre_run) return 3;
  const int frame = atoi(words[2]), tail = atoi(words[3]);
  int rate = 48000, off = 0;
  void *echo = init(frame, tail), *pre = pre_init(frame, rate);
  control(echo, SET_RATE, &rate);
  pre_control(pre, SET_DENOISE, &off);
  pre_control(pre, SET_ECHO_STATE, echo);
  short *both = malloc(4 * (size_t)frame), *microphone = malloc(2 * (size_t)frame), *sent = malloc(2 * (size_t)frame), *out = malloc(2 * (size_t)frame);
  while (fread(both, 4, (size_t)frame, stdin) == (size_t)frame) {
    for (int i = 0; i < frame; i++) {
      microphone[i] = both[2 * i];
      sent[i] = both[2 * i + 1];
    }
    cancel(echo, microphone, sent, out);
    pre_run(pre, out);
    fwrite(out, 2, (size_t)frame, stdout);
  }
  return 0;
}
