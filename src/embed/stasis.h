/* Stasis in a program of your own: read a feel, give it what hands do, advance it frame by frame, read values.
 *
 * A session is one feel under way. Each frame: give the inputs that have come, call stasis_advance() with the seconds
 * since the frame before, read what you need. Inputs act at the frame to which that call leads; what is read holds at
 * that frame. The numbers are those of `stasis run`, to the bit.
 *
 * Units are those of the feel: a channel's values are in its own unit, times in seconds, speeds in units a second.
 * Indices count from 0 in the order of the feel; stasis_find() gives them by name. An index that does not exist is
 * answered by 0 or NULL, and an input for it does nothing.
 *
 * Texts are UTF-8 and end with a zero byte. A `char *` that is returned is yours: give it to stasis_free(). A
 * `const char *` that is returned belongs to the session or to the list of faults, until that is changed or closed.
 *
 * Sessions share nothing: different ones may be used by different threads at once, one by one thread at a time.
 * stasis_advance() and what only reads allocate nothing once every motion has been used. No function throws, ends the
 * program, or keeps a pointer that it was given.
 *
 * Version of this interface: functions are only ever added while STASIS_INTERFACE stays the same. */
#ifndef STASIS_H
#define STASIS_H

#include <stddef.h>

#ifdef __cplusplus
extern "C" {
#endif

#define STASIS_INTERFACE 1

#if defined(_WIN32)
#define STASIS_EXPORT
#else
#define STASIS_EXPORT __attribute__((visibility("default")))
#endif

typedef struct stasis_session stasis_session; /* a feel under way */
typedef struct stasis_moment stasis_moment;   /* all of a session at one frame, to go back to */
typedef struct stasis_faults stasis_faults;   /* what is wrong with a text or a call */

/* "0.1.0". */
STASIS_EXPORT const char* stasis_version(void);
/* Gives back a text that was returned as `char *`; NULL is let be. */
STASIS_EXPORT void stasis_free(char* text);

/* --- Faults ----------------------------------------------------------------------------------------------------- */

typedef struct stasis_fault {
  const char* code;    /* stable short name, listed in docs/errors.md */
  const char* file;    /* the file, or NULL */
  int line, column;    /* from 1; 0 where there is none */
  const char* key;     /* dotted path of the key; may be empty */
  const char* message; /* what was found and what is allowed */
  const char* fix;     /* what to do about it; may be empty */
} stasis_fault;

STASIS_EXPORT size_t stasis_fault_count(const stasis_faults* faults);
/* One of them; all NULL and 0 where there is none of that number. */
STASIS_EXPORT stasis_fault stasis_fault_at(const stasis_faults* faults, size_t index);
/* All of them as the command line shows them, line after line. Yours. */
STASIS_EXPORT char* stasis_faults_text(const stasis_faults* faults);
STASIS_EXPORT void stasis_faults_free(stasis_faults* faults);

/* --- Open and close --------------------------------------------------------------------------------------------- */

/* A file that a feel names: what it includes, a recording, a curve. */
typedef struct stasis_file {
  const char* name; /* as the feel names it */
  const char* text;
  size_t length; /* bytes */
} stasis_file;

typedef struct stasis_source {
  const char* name;         /* of the feel, for messages: "otter.toml"; NULL: "feel" */
  const char* text;         /* TOML; copied */
  size_t length;            /* bytes */
  const stasis_file* files; /* copied */
  size_t file_count;
  const char* variant; /* NULL: the feel itself */
  const char* take;    /* whose tracks, obstacles and tick are around; its cues do not act. NULL: the first take */
  /* Rates in Hz, held within 0.01 and 100000. */
  double fps;  /* > 0: frames of this length, whatever stasis_advance() is told. 0: as long as it is told */
  double tick; /* > 0: subjects advance at this rate, Hz, whatever the take says. 0: as the take says */
} stasis_source;

/* A session before its first frame. NULL with *faults set where the feel is broken; `faults` may be NULL. */
STASIS_EXPORT stasis_session* stasis_open(const stasis_source* source, stasis_faults** faults);
/* The same from a file on disk; files that it names lie beside it or below. Not in WebAssembly. */
STASIS_EXPORT stasis_session* stasis_open_file(const char* path, const char* variant, const char* take, double fps,
                                               stasis_faults** faults);
STASIS_EXPORT void stasis_close(stasis_session* session);

/* --- What is in it ---------------------------------------------------------------------------------------------- */

typedef enum stasis_kind {
  STASIS_CHANNEL,
  STASIS_CONTROL,
  STASIS_SHAKE,
  STASIS_TRACK,
  STASIS_POSE,
  STASIS_SWITCH,
  STASIS_TAKE,
  STASIS_VARIANT,
  STASIS_SETTING,
  STASIS_SEQUENCE
} stasis_kind;

STASIS_EXPORT int stasis_count(const stasis_session* session, stasis_kind kind);
STASIS_EXPORT const char* stasis_name(const stasis_session* session, stasis_kind kind, int index);
/* -1 where nothing has that name. */
STASIS_EXPORT int stasis_find(const stasis_session* session, stasis_kind kind, const char* name);
/* Of a channel: 1 to 3. */
STASIS_EXPORT int stasis_components(const stasis_session* session, int channel);
/* Of a channel, as declared; may be empty. */
STASIS_EXPORT const char* stasis_unit(const stasis_session* session, int channel);
/* Everything that a page or a tool needs to show: title, channels, controls, shakes, tracks, obstacles, takes,
 * variants, settings, picture. JSON, described in docs/embed.md. Yours. */
STASIS_EXPORT char* stasis_describe(const stasis_session* session);

/* --- Inputs: they act at the next frame ------------------------------------------------------------------------- */

/* `button`: which of the control's buttons, 0 where it has none of its own. */
STASIS_EXPORT void stasis_press(stasis_session* session, int control, int button);
STASIS_EXPORT void stasis_release(stasis_session* session, int control, int button);
/* What is held is let go without what letting go would do: the window lost its focus. */
STASIS_EXPORT void stasis_cancel(stasis_session* session, int control);
/* Clicks of a wheel; below 0 the other way. */
STASIS_EXPORT void stasis_click(stasis_session* session, int control, int count);
/* Counts by which a pointer has moved since the frame before. */
STASIS_EXPORT void stasis_pointer(stasis_session* session, int control, double counts);
/* -1 to 1; it stays there until told otherwise. */
STASIS_EXPORT void stasis_stick(stasis_session* session, int control, double deflection);
/* A locked control ignores its input. */
STASIS_EXPORT void stasis_lock(stasis_session* session, int control, int locked);
/* `strength`: 1 is a full hit. */
STASIS_EXPORT void stasis_hit(stasis_session* session, int shake, double strength);
/* A sequence begins, from where the view is; one that runs begins anew. */
STASIS_EXPORT void stasis_start(stasis_session* session, int sequence);
/* A sequence that runs ends where it is: value and speed go on. */
STASIS_EXPORT void stasis_skip(stasis_session* session, int sequence);
/* From this frame on game time goes `speed` times as fast as the clock, 0 to 100, changing within `over` seconds of the
 * clock: slow motion, a stop on a hit. What has runs_on = "clock" goes as fast as ever. Frames of equal length cannot
 * be slowed: nothing changes. */
STASIS_EXPORT void stasis_game_speed(stasis_session* session, double speed, double over);
/* The home of a channel's component. */
STASIS_EXPORT void stasis_goal(stasis_session* session, int channel, int component, double value);
/* The channel follows another track. */
STASIS_EXPORT void stasis_follow(stasis_session* session, int channel, int track);
/* Where a subject is at the next frame, in the track's unit: from now on the track is led by these calls, straight from
 * frame to frame, and stands where it is while none comes. Until it first moves it faces 0. */
STASIS_EXPORT void stasis_place(stasis_session* session, int track, double x, double y, double z);

/* --- Frames ----------------------------------------------------------------------------------------------------- */

/* On to the next frame, `dt` seconds later, 0 to 60; the first call begins the first frame, at time 0. Of a longer one
 * only 60 s pass: a program that was asleep. Anything else than a number of 0 or more does nothing. */
STASIS_EXPORT void stasis_advance(stasis_session* session, double dt);
/* Number of the frame; -1 before the first. */
STASIS_EXPORT long long stasis_frame(const stasis_session* session);
/* Time of the frame on the clock, s. */
STASIS_EXPORT double stasis_time(const stasis_session* session);
/* Game time of the frame, s. */
STASIS_EXPORT double stasis_game_time(const stasis_session* session);

/* --- Values at the frame ---------------------------------------------------------------------------------------- */

/* What is drawn: after motion, range, shakes, grid. */
STASIS_EXPORT double stasis_value(const stasis_session* session, int channel, int component);
/* After motion and range, before shakes and grid. */
STASIS_EXPORT double stasis_smooth(const stasis_session* session, int channel, int component);
/* Where it is heading. */
STASIS_EXPORT double stasis_goal_of(const stasis_session* session, int channel, int component);
/* Unit/s with which `smooth` has come here. */
STASIS_EXPORT double stasis_velocity(const stasis_session* session, int channel, int component);
/* Place of the eye (3) and its turn as a quaternion x, y, z, w (4). 0 where the picture places no eye in space. */
STASIS_EXPORT int stasis_eye(const stasis_session* session, double out[7]);
/* The camera with which to draw a plain scene: place (3), turn x, y, z, w (4), tangent of half the vertical angle of
 * view. Where the picture does not say where the eye is, a place from which what the channels do can be seen. 0 before
 * the first frame. */
STASIS_EXPORT int stasis_camera(const stasis_session* session, double out[8]);
/* Where a subject is as it is drawn; 0 where it is not there. */
STASIS_EXPORT int stasis_subject(const stasis_session* session, int track, double out[3]);
/* 1 while the control is held. */
STASIS_EXPORT int stasis_is_down(const stasis_session* session, int control);
/* A toggle's state, which pose of a cycle (0: home), a mirror's side (1 or -1), the rung of clicks, a stick's value. */
STASIS_EXPORT double stasis_state(const stasis_session* session, int control);
/* 1 while the switch's pose is in force. */
STASIS_EXPORT int stasis_is_in(const stasis_session* session, int which_switch);
/* 1 while the sequence leads its channels. */
STASIS_EXPORT int stasis_is_running(const stasis_session* session, int sequence);
/* Of a shake: 1 is one full hit; 0 where it is not felt. */
STASIS_EXPORT double stasis_strength(const stasis_session* session, int shake);
/* Inputs that had no effect, and why, a line each, since this was last asked. Yours; NULL if there are none. */
STASIS_EXPORT char* stasis_notes(stasis_session* session);

/* --- Go back ---------------------------------------------------------------------------------------------------- */

STASIS_EXPORT stasis_moment* stasis_save(const stasis_session* session);
/* Only of this session, and only until its feel is changed, or stasis_place() first leads a track: 0 where that is not
 * so. */
STASIS_EXPORT int stasis_restore(stasis_session* session, const stasis_moment* moment);
STASIS_EXPORT void stasis_moment_free(stasis_moment* moment);

/* --- Change the feel while it runs ------------------------------------------------------------------------------ */

/* Another text of the feel, from this frame on. Channels, controls, poses and shakes of the same names keep value and
 * speed and go on by the new numbers; a move that takes a set time is finished by its old ones; what is new begins at
 * rest. 0 with *faults set where the text is broken: the old one then goes on. */
STASIS_EXPORT int stasis_reload(stasis_session* session, const char* text, size_t length, stasis_faults** faults);
/* One value, as `stasis set` writes it: "motion.soft.frequency", "1.4". Comments and all other bytes stay. */
STASIS_EXPORT int stasis_set(stasis_session* session, const char* path, const char* value, stasis_faults** faults);
/* A word of feel, as `stasis tune` does it: "snappier", "no wobble"; `name` is a channel, or a shake for words of
 * shakes. `amount`: 2 does it twice, -1 takes it back. 0 with *faults set where it cannot be done. */
STASIS_EXPORT int stasis_tune(stasis_session* session, const char* name, const char* word, double amount,
                              stasis_faults** faults);
/* The words there are: JSON, a list of word, of ("channel" or "shake") and effect. Yours. */
STASIS_EXPORT char* stasis_words(void);
/* The text as it now is. Yours. */
STASIS_EXPORT char* stasis_text(const stasis_session* session);
/* Another variant, NULL for the feel itself; as stasis_reload(). */
STASIS_EXPORT int stasis_use_variant(stasis_session* session, const char* variant, stasis_faults** faults);
/* Every number of the feel: path, value, unit, what is allowed, from where to where it makes sense, by amounts or by
 * factors, what it means. JSON, described in docs/embed.md. Yours. */
STASIS_EXPORT char* stasis_numbers(const stasis_session* session);
/* Every curve of the feel: path, text, the points by which a hand may bend it, 65 values to draw it by. JSON, described
 * in docs/embed.md. Yours. */
STASIS_EXPORT char* stasis_curves(const stasis_session* session);
/* What a channel does, in a few lines of words; `stasis explain` says more. Yours. */
STASIS_EXPORT char* stasis_explain(const stasis_session* session, int channel);

/* --- What hands did --------------------------------------------------------------------------------------------- */

/* Keeps every input and every frame's time from the first frame on, or stops. Call it before the first frame. Keeping
 * needs memory now and then. */
STASIS_EXPORT void stasis_record(stasis_session* session, int keep);
/* The inputs as a take of the feel, ready to be pasted: TOML. `clock` names the file of frame times, NULL for a steady
 * clock of the rate that fits best. Yours; NULL where nothing was kept. */
STASIS_EXPORT char* stasis_recorded_take(const stasis_session* session, const char* name, const char* clock);
/* The frame times, as CSV. Yours. */
STASIS_EXPORT char* stasis_recorded_clock(const stasis_session* session);
/* The way of a subject that was led by stasis_place(), as a recording: CSV. Yours; NULL where none was kept. */
STASIS_EXPORT char* stasis_recorded_track(const stasis_session* session, int track);
/* The last move of each channel since the session was opened, changed or put back, one under way as far as it has come:
 * a list of the objects under `moves` of `stasis run --json`. Yours; NULL where nothing is kept. */
STASIS_EXPORT char* stasis_last_moves(const stasis_session* session);
/* What the feel as it now is makes of these inputs on these frames: the measures of docs/measures.md, JSON as of
 * `stasis run --json`. Yours. */
STASIS_EXPORT char* stasis_measures(const stasis_session* session);

#ifdef __cplusplus
}
#endif

#endif
