/* SPDX-FileCopyrightText: The authors of Rushweed
 * SPDX-License-Identifier: MIT */

/* Reads a bundle and draws its levels, pixel for pixel: C99, no dependencies. It is written from
 * docs/format/bundle.md alone. Pages are PNG.
 *
 *     #define RUSHWEED_IMPLEMENTATION   (in one file)
 *     #include "rushweed.h"
 */
#ifndef RUSHWEED_H
#define RUSHWEED_H

#include <stddef.h>

typedef struct rw_bundle rw_bundle;

/* Opens the bundle in a folder. Returns NULL and fills in `problem`, of at least 200 bytes, where
 * it cannot be read. */
rw_bundle *rw_open(const char *folder, char problem[200]);

/* Draws the area of a level whose upper left corner is (x, y) as it is after so many seconds, in
 * red, green and blue, row by row: width * height * 3 bytes. Returns 0 and fills in `problem` where
 * that fails. */
int rw_draw(rw_bundle *bundle, const char *level, int x, int y, int width, int height,
            double seconds, unsigned char *pixels, char problem[200]);

void rw_close(rw_bundle *bundle);

#endif

#ifdef RUSHWEED_IMPLEMENTATION

#include <math.h>
#include <setjmp.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { RW_DEEPEST = 64, RW_LONGEST = 8192, RW_PART = 65536, RW_CHUNK = 1 << 16, RW_FRAMES = 1 << 16 };
enum { RW_SWAP = 4, RW_MIRROR = 1, RW_UPSIDE_DOWN = 2 };

/* ---- memory: what is kept until the bundle is closed, and what a picture needs for a while ---- */

typedef union rw_block {
    union rw_block *next;
    long double aligned;
} rw_block;

typedef struct { int width, height; unsigned char *rgba; } rw_picture;
typedef struct rw_value rw_value;

struct rw_bundle {
    rw_block *kept, *scratch;
    char *room;
    size_t left;
    jmp_buf failed;
    char problem[200];
    rw_value *manifest;
    rw_value **levels;
    int level_count, page_count, depth;
    rw_picture *pages;
    rw_value **pieces; /* by number */
    int piece_count;
    int in_units;
    double unit;
    int y_up;
};

static void rw_fail(rw_bundle *b, const char *words, const char *about) {
    snprintf(b->problem, sizeof b->problem, words, about);
    longjmp(b->failed, 1);
}

static void *rw_block_in(rw_bundle *b, rw_block **list, size_t size) {
    rw_block *block = size < SIZE_MAX - sizeof *block ? calloc(1, sizeof *block + size) : NULL;
    if (!block) rw_fail(b, "There is not enough memory%s.", "");
    block->next = *list;
    *list = block;
    return block + 1;
}

static void rw_free(rw_block **list) {
    while (*list) {
        rw_block *next = (*list)->next;
        free(*list);
        *list = next;
    }
}

static void *rw_keep(rw_bundle *b, size_t size) {
    size = (size + sizeof(rw_block) - 1) / sizeof(rw_block) * sizeof(rw_block);
    if (size > RW_CHUNK / 4) return rw_block_in(b, &b->kept, size);
    if (size > b->left) {
        b->room = rw_block_in(b, &b->kept, RW_CHUNK);
        b->left = RW_CHUNK;
    }
    b->room += size;
    b->left -= size;
    return b->room - size;
}

/* ---- JSON ---- */

typedef enum { RW_NULL, RW_FALSE, RW_TRUE, RW_NUMBER, RW_TEXT, RW_LIST, RW_OBJECT } rw_kind;

struct rw_value {
    rw_kind kind;
    double number;
    char *text, *key;
    rw_value *first, *next;
    int count;
};

typedef struct { rw_bundle *b; const char *at, *end; const char *file; } rw_source;

static char rw_peek(rw_source *s) {
    while (s->at < s->end && strchr(" \t\r\n", *s->at) && *s->at) s->at++;
    return s->at < s->end ? *s->at : 0;
}

static void rw_expect(rw_source *s, char sign) {
    if (rw_peek(s) != sign) rw_fail(s->b, "%s is not JSON as it should be.", s->file);
    s->at++;
}

static unsigned rw_hex(rw_source *s) {
    unsigned code = 0;
    for (int digit = 0; digit < 4; digit++, s->at++) {
        const char *found = s->at < s->end ? strchr("0123456789abcdef", *s->at | 0x20) : NULL;
        if (!found || !*found) rw_fail(s->b, "%s has a broken letter.", s->file);
        code = code * 16 + (unsigned)(found - "0123456789abcdef");
    }
    return code;
}

static char *rw_put_letter(char *to, unsigned code) {
    if (code < 0x80) { *to++ = (char)code; return to; }
    int more = code < 0x800 ? 1 : code < 0x10000 ? 2 : 3;
    *to++ = (char)((0xF00 >> more & 0xFF) | code >> 6 * more);
    while (more--) *to++ = (char)(0x80 | (code >> 6 * more & 0x3F));
    return to;
}

static char *rw_text(rw_source *s) {
    rw_expect(s, '"');
    const char *stop = s->at;
    while (stop < s->end && *stop != '"') stop += *stop == '\\' ? 2 : 1;
    if (stop >= s->end) rw_fail(s->b, "%s ends within a text.", s->file);
    char *text = rw_keep(s->b, (size_t)(stop - s->at) + 1), *to = text;
    while (s->at < stop) {
        if (*s->at != '\\') { *to++ = *s->at++; continue; }
        char sign = s->at[1];
        s->at += 2;
        if (sign == 'u') {
            unsigned code = rw_hex(s);
            if (code >= 0xD800 && code < 0xDC00 && stop - s->at >= 6 && s->at[0] == '\\') {
                s->at += 2;
                code = 0x10000 + ((code - 0xD800) << 10) + ((rw_hex(s) - 0xDC00) & 0x3FF);
            }
            to = rw_put_letter(to, code);
        } else {
            const char *known = strchr("b\bf\fn\nr\rt\t", sign);
            *to++ = known && sign ? known[1] : sign;
        }
    }
    s->at = stop + 1;
    return text;
}

static rw_value *rw_value_of(rw_source *s);

static rw_value *rw_items(rw_source *s, rw_value *whole, char end) {
    rw_value **last = &whole->first;
    s->at++;
    if (++s->b->depth > RW_DEEPEST) rw_fail(s->b, "%s is nested too deeply.", s->file);
    while (rw_peek(s) != end) {
        if (whole->count) rw_expect(s, ',');
        char *key = NULL;
        if (end == '}') {
            key = rw_text(s);
            rw_expect(s, ':');
        }
        *last = rw_value_of(s);
        (*last)->key = key;
        last = &(*last)->next;
        whole->count++;
    }
    s->b->depth--;
    s->at++;
    return whole;
}

static rw_value *rw_value_of(rw_source *s) {
    rw_value *value = rw_keep(s->b, sizeof *value);
    char sign = rw_peek(s);
    if (sign == '{' || sign == '[') {
        value->kind = sign == '{' ? RW_OBJECT : RW_LIST;
        return rw_items(s, value, sign == '{' ? '}' : ']');
    }
    if (sign == '"') {
        value->kind = RW_TEXT;
        value->text = rw_text(s);
        return value;
    }
    static const char *const words[] = {"null", "false", "true"};
    for (int word = 0; word < 3; word++) {
        size_t length = strlen(words[word]);
        if ((size_t)(s->end - s->at) >= length && !memcmp(s->at, words[word], length)) {
            value->kind = (rw_kind)word;
            s->at += length;
            return value;
        }
    }
    char digits[64], *stop;
    size_t length = 0;
    while (s->at + length < s->end && length < sizeof digits - 1 && s->at[length] &&
           strchr("+-.0123456789eE", s->at[length])) {
        digits[length] = s->at[length];
        length++;
    }
    digits[length] = 0;
    value->kind = RW_NUMBER;
    value->number = strtod(digits, &stop);
    if (stop == digits || !isfinite(value->number)) {
        rw_fail(s->b, "%s is not JSON as it should be.", s->file);
    }
    s->at += stop - digits;
    return value;
}

static rw_value *rw_get(rw_value *object, const char *key) {
    rw_value *item = object && object->kind == RW_OBJECT ? object->first : NULL;
    while (item && strcmp(item->key, key)) item = item->next;
    return item;
}

static rw_value *rw_at(rw_value *list, int place) {
    rw_value *item = list && list->kind == RW_LIST ? list->first : NULL;
    while (item && place--) item = item->next;
    return item;
}

static rw_value *rw_first(rw_value *whole) { return whole ? whole->first : NULL; }
static double rw_number(rw_value *v, double usual) { return v && v->kind == RW_NUMBER ? v->number : usual; }
static const char *rw_said(rw_value *v) { return v && v->kind == RW_TEXT ? v->text : ""; }
static int rw_is(rw_value *v) { return v && v->kind == RW_TRUE; }

static int rw_whole(rw_value *v) {
    double number = floor(rw_number(v, 0));
    return number < -1e9 ? -1000000000 : number > 1e9 ? 1000000000 : (int)number;
}

/* ---- PNG: inflate (RFC 1951), filters and palettes (ISO/IEC 15948) ---- */

typedef struct {
    rw_bundle *b;
    const unsigned char *in, *end;
    unsigned char *out;
    size_t made, room;
    uint32_t bits;
    int count;
} rw_stream;

static void rw_broken(rw_bundle *b) { rw_fail(b, "A page is no PNG that can be read%s.", ""); }

static unsigned rw_bits(rw_stream *s, int count) {
    while (s->count < count) {
        if (s->in >= s->end) rw_broken(s->b);
        s->bits |= (uint32_t)*s->in++ << s->count;
        s->count += 8;
    }
    unsigned value = s->bits & ((1u << count) - 1);
    s->bits >>= count;
    s->count -= count;
    return value;
}

typedef struct { uint16_t counts[16], symbols[288]; } rw_code;

static void rw_make_code(rw_code *code, const unsigned char *lengths, int count) {
    uint16_t starts[16] = {0};
    memset(code, 0, sizeof *code);
    for (int symbol = 0; symbol < count; symbol++) code->counts[lengths[symbol]]++;
    for (int length = 1; length < 15; length++) {
        starts[length + 1] = (uint16_t)(starts[length] + code->counts[length]);
    }
    for (int symbol = 0; symbol < count; symbol++) {
        if (lengths[symbol]) code->symbols[starts[lengths[symbol]]++] = (uint16_t)symbol;
    }
    code->counts[0] = 0;
}

static int rw_symbol(rw_stream *s, const rw_code *code) {
    int value = 0, first = 0, place = 0;
    for (int length = 1; length < 16; length++) {
        value |= (int)rw_bits(s, 1);
        int count = code->counts[length];
        if (value - count < first) {
            place += value - first;
            if (place < 0 || place >= 288) rw_broken(s->b);
            return code->symbols[place];
        }
        place += count;
        first = (first + count) << 1;
        value <<= 1;
    }
    rw_broken(s->b);
    return 0;
}

static void rw_put(rw_stream *s, unsigned char byte) {
    if (s->made >= s->room) rw_broken(s->b);
    s->out[s->made++] = byte;
}

static void rw_coded(rw_stream *s, const rw_code *lengths, const rw_code *distances) {
    static const uint16_t long_base[] = {3, 4, 5, 6, 7, 8, 9, 10, 11, 13, 15, 17, 19, 23, 27,
                                         31, 35, 43, 51, 59, 67, 83, 99, 115, 131, 163, 195, 227, 258};
    static const unsigned char long_more[] = {0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2,
                                              2, 3, 3, 3, 3, 4, 4, 4, 4, 5, 5, 5, 5, 0};
    for (;;) {
        int symbol = rw_symbol(s, lengths);
        if (symbol == 256) return;
        if (symbol < 256) { rw_put(s, (unsigned char)symbol); continue; }
        if (symbol > 285) rw_broken(s->b);
        size_t length = long_base[symbol - 257] + rw_bits(s, long_more[symbol - 257]);
        int far = rw_symbol(s, distances);
        if (far > 29) rw_broken(s->b);
        int more = far < 2 ? 0 : far / 2 - 1;
        size_t distance = far < 2 ? (size_t)far + 1 : ((size_t)(2 + (far & 1)) << more) + 1;
        distance += rw_bits(s, more);
        if (distance > s->made) rw_broken(s->b);
        while (length--) rw_put(s, s->out[s->made - distance]);
    }
}

static void rw_read_codes(rw_stream *s, rw_code *lengths, rw_code *distances) {
    static const unsigned char order[] = {16, 17, 18, 0, 8, 7, 9, 6, 10, 5, 11, 4, 12, 3, 13, 2, 14, 1, 15};
    unsigned char found[320] = {0};
    int long_count = (int)rw_bits(s, 5) + 257, far_count = (int)rw_bits(s, 5) + 1;
    int count = (int)rw_bits(s, 4) + 4, place = 0;
    rw_code code;
    for (int i = 0; i < count; i++) found[order[i]] = (unsigned char)rw_bits(s, 3);
    rw_make_code(&code, found, 19);
    memset(found, 0, sizeof found);
    while (place < long_count + far_count) {
        int symbol = rw_symbol(s, &code), times = 1;
        unsigned char length = (unsigned char)symbol;
        if (symbol == 16) {
            if (!place) rw_broken(s->b);
            length = found[place - 1];
            times = 3 + (int)rw_bits(s, 2);
        } else if (symbol > 16) {
            length = 0;
            times = symbol == 17 ? 3 + (int)rw_bits(s, 3) : 11 + (int)rw_bits(s, 7);
        }
        if (place + times > long_count + far_count || long_count > 286) rw_broken(s->b);
        while (times--) found[place++] = length;
    }
    rw_make_code(lengths, found, long_count);
    rw_make_code(distances, found + long_count, far_count);
}

static void rw_inflate(rw_stream *s) {
    unsigned last;
    rw_code lengths, distances;
    do {
        last = rw_bits(s, 1);
        unsigned way = rw_bits(s, 2);
        if (way == 3) rw_broken(s->b);
        if (way == 0) {
            s->bits = 0;
            s->count = 0;
            if (s->end - s->in < 4) rw_broken(s->b);
            size_t size = s->in[0] | (size_t)s->in[1] << 8;
            s->in += 4;
            if ((size_t)(s->end - s->in) < size) rw_broken(s->b);
            while (size--) rw_put(s, *s->in++);
            continue;
        }
        if (way == 1) {
            unsigned char usual[288];
            for (int i = 0; i < 288; i++) usual[i] = i < 144 ? 8 : i < 256 ? 9 : i < 280 ? 7 : 8;
            rw_make_code(&lengths, usual, 288);
            memset(usual, 5, 30);
            rw_make_code(&distances, usual, 30);
        } else {
            rw_read_codes(s, &lengths, &distances);
        }
        rw_coded(s, &lengths, &distances);
    } while (!last);
}

static uint32_t rw_big(const unsigned char *at) {
    return (uint32_t)at[0] << 24 | (uint32_t)at[1] << 16 | (uint32_t)at[2] << 8 | at[3];
}

static void rw_unfilter(rw_bundle *b, unsigned char *row, const unsigned char *above, size_t length, size_t step) {
    int filter = row[-1];
    if (filter > 4) rw_broken(b);
    for (size_t i = 0; i < length; i++) {
        int left = i < step ? 0 : row[i - step], up = above ? above[i] : 0;
        int corner = above && i >= step ? above[i - step] : 0, guess = 0;
        if (filter == 1) guess = left;
        if (filter == 2) guess = up;
        if (filter == 3) guess = (left + up) / 2;
        if (filter == 4) {
            int to_left = abs(up - corner), to_up = abs(left - corner), to_corner = abs(left + up - 2 * corner);
            guess = to_left <= to_up && to_left <= to_corner ? left : to_up <= to_corner ? up : corner;
        }
        row[i] = (unsigned char)(row[i] + guess);
    }
}

static rw_picture rw_png(rw_bundle *b, const unsigned char *data, size_t size) {
    const unsigned char *at = data + 8, *end = data + size, *colours = NULL, *clear = NULL;
    size_t colour_count = 0, clear_count = 0, packed = 0;
    if (size < 33 || memcmp(data, "\x89PNG\r\n\x1a\n", 8)) rw_broken(b);
    rw_picture made = {(int)(rw_big(data + 16) & 0x7FFFFFFF), (int)(rw_big(data + 20) & 0x7FFFFFFF), NULL};
    int depth = data[24], kind = data[25];
    int channels = kind == 6 ? 4 : kind == 2 ? 3 : kind == 4 ? 2 : kind == 0 || kind == 3 ? 1 : 0;
    int fits = depth == 8 || (kind == 3 && (depth == 1 || depth == 2 || depth == 4));
    if (!channels || !fits || data[28]) rw_broken(b);
    if (made.width < 1 || made.height < 1 || made.width > 32768 || made.height > 32768) rw_broken(b);
    unsigned char *stream = rw_block_in(b, &b->scratch, size);
    while (end - at >= 12) {
        size_t length = rw_big(at);
        if (length > (size_t)(end - at) - 12) rw_broken(b);
        if (!memcmp(at + 4, "IDAT", 4)) {
            memcpy(stream + packed, at + 8, length);
            packed += length;
        }
        if (!memcmp(at + 4, "PLTE", 4)) colours = at + 8, colour_count = length / 3;
        if (!memcmp(at + 4, "tRNS", 4)) clear = at + 8, clear_count = length;
        at += length + 12;
    }
    size_t across = ((size_t)made.width * channels * depth + 7) / 8, step = depth < 8 ? 1 : (size_t)channels;
    rw_stream s = {b, stream + 2, stream + packed, NULL, 0, (across + 1) * (size_t)made.height, 0, 0};
    if (packed < 6) rw_broken(b);
    s.out = rw_block_in(b, &b->scratch, s.room);
    rw_inflate(&s);
    if (s.made != s.room) rw_broken(b);
    made.rgba = rw_keep(b, (size_t)made.width * made.height * 4);
    for (int y = 0; y < made.height; y++) {
        unsigned char *row = s.out + (size_t)y * (across + 1) + 1;
        rw_unfilter(b, row, y ? row - across - 1 : NULL, across, step);
        for (int x = 0; x < made.width; x++) {
            unsigned char *to = made.rgba + ((size_t)y * made.width + x) * 4, *from = row + (size_t)x * channels;
            if (kind == 3) {
                int shift = 8 - depth - (x * depth) % 8;
                size_t place = row[(size_t)x * depth / 8] >> shift & ((1 << depth) - 1);
                if (place >= colour_count) rw_broken(b);
                memcpy(to, colours + place * 3, 3);
                to[3] = place < clear_count ? clear[place] : 255;
            } else {
                for (int c = 0; c < 3; c++) to[c] = channels > 2 ? from[c] : from[0];
                to[3] = channels % 2 ? 255 : from[channels - 1];
            }
        }
    }
    rw_free(&b->scratch);
    return made;
}

/* ---- the bundle ---- */

static unsigned char *rw_file(rw_bundle *b, const char *folder, const char *name, size_t *size) {
    size_t folder_length = strlen(folder), length = folder_length + strlen(name) + 2;
    if (strchr(name, '/') || strchr(name, '\\')) rw_fail(b, "“%.90s” is no name of a file.", name);
    char *path = rw_block_in(b, &b->scratch, length);
    snprintf(path, length, "%s/%s", folder, name);
    FILE *file = fopen(path, "rb");
    if (!file) rw_fail(b, "“%.90s” is not there, or cannot be read.", path);
    unsigned char *data = NULL;
    long end = fseek(file, 0, SEEK_END) ? -1 : ftell(file);
    rewind(file);
    if (end >= 0 && end < 1L << 30) data = rw_block_in(b, &b->scratch, (size_t)end + 1);
    *size = data ? fread(data, 1, (size_t)end, file) : 0;
    fclose(file);
    if (!data || *size != (size_t)end) rw_fail(b, "“%.90s” cannot be read.", name);
    return data;
}

static rw_value *rw_json(rw_bundle *b, const char *folder, const char *name) {
    size_t size;
    char *text = (char *)rw_file(b, folder, name, &size);
    rw_source source = {b, text, text + size, name};
    rw_value *value = rw_value_of(&source);
    rw_free(&b->scratch);
    return value;
}

static unsigned char *rw_unwrapped(rw_bundle *b, const char *url, size_t *size) {
    static const char letters[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    const char *comma = strchr(url, ','), *at = comma ? comma + 1 : url;
    unsigned char *data = rw_block_in(b, &b->scratch, strlen(url) + 1);
    unsigned bits = 0, count = 0;
    *size = 0;
    for (; *at && *at != '='; at++) {
        const char *found = strchr(letters, *at);
        if (!found) rw_fail(b, "What is wrapped in text is broken%s.", "");
        bits = (bits << 6 | (unsigned)(found - letters)) & 0xFFFFFF;
        count += 6;
        if (count >= 8) data[(*size)++] = (unsigned char)(bits >> (count -= 8));
    }
    return data;
}

/* A page at density 1: where there is none, every so many pixels of the first one. */
static rw_picture rw_page(rw_bundle *b, const char *folder, rw_value *page) {
    rw_value *best = NULL;
    for (rw_value *one = rw_first(rw_get(page, "densities")); one; one = one->next) {
        if (!best || rw_number(rw_get(one, "density"), 1) < rw_number(rw_get(best, "density"), 1)) best = one;
    }
    const char *name = rw_said(rw_get(best, "file"));
    size_t size;
    int wrapped = !strncmp(name, "data:", 5);
    unsigned char *data = wrapped ? rw_unwrapped(b, name, &size) : rw_file(b, folder, name, &size);
    unsigned char *copy = rw_block_in(b, &b->scratch, size + 1);
    memcpy(copy, data, size);
    rw_picture read = rw_png(b, copy, size);
    int density = rw_whole(rw_get(best, "density"));
    if (density <= 1) return read;
    rw_picture made = {read.width / density, read.height / density, NULL};
    made.rgba = rw_keep(b, (size_t)made.width * made.height * 4 + 1);
    for (int y = 0; y < made.height; y++) {
        for (int x = 0; x < made.width; x++) {
            size_t from = (size_t)(y * density + density / 2) * read.width + x * density + density / 2;
            memcpy(made.rgba + ((size_t)y * made.width + x) * 4, read.rgba + from * 4, 4);
        }
    }
    return made;
}

/* Puts the cells of a level's chunks into its layers. A game reads the chunks it needs. */
static void rw_add_chunks(rw_bundle *b, const char *folder, rw_value *level) {
    for (rw_value *chunk = rw_first(rw_get(level, "chunks")); chunk; chunk = chunk->next) {
        rw_value *held = rw_json(b, folder, rw_said(rw_get(chunk, "file")));
        rw_value *layer = rw_first(rw_get(level, "layers")), *rows = rw_first(rw_get(held, "layers"));
        for (; layer && rows; layer = layer->next, rows = rows->next) {
            rw_value *cells = rw_get(layer, "cells");
            if (!cells || cells->kind != RW_LIST || rows->kind != RW_LIST) continue;
            rw_value **end = &cells->first;
            while (*end) end = &(*end)->next;
            *end = rows->first;
        }
    }
}

static void rw_load(rw_bundle *b, const char *folder) {
    b->manifest = rw_json(b, folder, "bundle.json");
    if (rw_number(rw_get(b->manifest, "format"), 0) != 4) rw_fail(b, "This reader knows format 4%s.", " alone");
    b->y_up = rw_is(rw_get(b->manifest, "y_up"));
    b->in_units = !strcmp(rw_said(rw_get(b->manifest, "units")), "units");
    b->unit = b->in_units ? rw_number(rw_get(b->manifest, "pixels_per_unit"), 1) : 1;
    rw_value *levels = rw_get(b->manifest, "levels"), *pages = rw_get(b->manifest, "pages");
    b->levels = rw_keep(b, sizeof *b->levels * (size_t)((levels ? levels->count : 0) + 1));
    for (rw_value *level = rw_first(levels); level; level = level->next) {
        const char *file = rw_said(rw_get(level, "file"));
        rw_value *whole = *file ? rw_json(b, folder, file) : level;
        rw_add_chunks(b, folder, whole);
        b->levels[b->level_count++] = whole;
    }
    b->pages = rw_keep(b, sizeof *b->pages * (size_t)((pages ? pages->count : 0) + 1));
    for (rw_value *page = rw_first(pages); page; page = page->next) b->pages[b->page_count++] = rw_page(b, folder, page);
    rw_value *pieces = rw_first(rw_get(b->manifest, "pieces"));
    for (rw_value *piece = pieces; piece; piece = piece->next) {
        int number = rw_whole(rw_get(piece, "number"));
        if (number < 1 || number > 1 << 24) rw_fail(b, "A piece has no number%s.", " that can be");
        if (number >= b->piece_count) b->piece_count = number + 1;
    }
    b->pieces = rw_keep(b, sizeof *b->pieces * (size_t)(b->piece_count + 1));
    for (rw_value *piece = pieces; piece; piece = piece->next) b->pieces[rw_whole(rw_get(piece, "number"))] = piece;
}

static int rw_loads(rw_bundle *b, const char *folder) {
    if (setjmp(b->failed)) return 0;
    rw_load(b, folder);
    return 1;
}

rw_bundle *rw_open(const char *folder, char problem[200]) {
    rw_bundle *b = calloc(1, sizeof *b);
    if (b && rw_loads(b, folder)) return b;
    snprintf(problem, 200, "%s", b ? b->problem : "There is not enough memory.");
    rw_close(b);
    return NULL;
}

void rw_close(rw_bundle *b) {
    if (!b) return;
    rw_free(&b->scratch);
    rw_free(&b->kept);
    free(b);
}

/* ---- pieces as they are shown ---- */

static rw_picture rw_blank(rw_bundle *b, int width, int height) {
    if (width < 0 || height < 0 || width > 4 * RW_LONGEST || height > 4 * RW_LONGEST) rw_fail(b, "A piece is too large%s.", "");
    rw_picture made = {width, height, rw_block_in(b, &b->scratch, (size_t)width * height * 4 + 1)};
    return made;
}

static void rw_copy(rw_picture *to, int x, int y, const rw_picture *from, int from_x, int from_y) {
    if (x < 0 || y < 0 || x >= to->width || y >= to->height) return;
    if (from_x < 0 || from_y < 0 || from_x >= from->width || from_y >= from->height) return;
    memcpy(to->rgba + ((size_t)y * to->width + x) * 4, from->rgba + ((size_t)from_y * from->width + from_x) * 4, 4);
}

static rw_value *rw_piece(rw_bundle *b, int number) {
    rw_value *piece = number > 0 && number < b->piece_count ? b->pieces[number] : NULL;
    if (!piece) rw_fail(b, "A level shows a piece that is not there%s.", "");
    return piece;
}

static rw_picture rw_whole_piece(rw_bundle *b, rw_value *piece) {
    rw_value *rect = rw_get(piece, "rect"), *size = rw_get(piece, "size"), *offset = rw_get(piece, "offset");
    int page = rw_whole(rw_get(piece, "page")), turned = rw_is(rw_get(piece, "turned"));
    int x = rw_whole(rw_at(rect, 0)), y = rw_whole(rw_at(rect, 1));
    int width = rw_whole(rw_at(rect, 2)), height = rw_whole(rw_at(rect, 3));
    int across = rw_whole(rw_at(offset, 0)), down = rw_whole(rw_at(offset, 1));
    if (page < 0 || page >= b->page_count) rw_fail(b, "A piece lies on a page that is not there%s.", "");
    rw_picture made = rw_blank(b, rw_whole(rw_at(size, 0)), rw_whole(rw_at(size, 1)));
    if (x < 0 || y < 0 || width < 0 || height < 0 || width > made.width + made.height || height > made.width + made.height) {
        rw_fail(b, "A piece lies beside its page%s.", "");
    }
    for (int row = 0; row < height; row++) {
        for (int column = 0; column < width; column++) {
            int to_x = turned ? row : column, to_y = turned ? width - 1 - column : row;
            rw_copy(&made, across + to_x, down + to_y, &b->pages[page], x + column, y + row);
        }
    }
    return made;
}

static rw_picture rw_turned(rw_bundle *b, rw_picture from, int turn) {
    if (!turn) return from;
    int swap = turn & RW_SWAP;
    rw_picture made = rw_blank(b, swap ? from.height : from.width, swap ? from.width : from.height);
    for (int y = 0; y < made.height; y++) {
        for (int x = 0; x < made.width; x++) {
            int at_x = turn & RW_MIRROR ? made.width - 1 - x : x;
            int at_y = turn & RW_UPSIDE_DOWN ? made.height - 1 - y : y;
            rw_copy(&made, x, y, &from, swap ? at_y : at_x, swap ? at_x : at_y);
        }
    }
    return made;
}

static int rw_drawn_side(int pixels, double factor) {
    double side = floor(pixels * factor + 0.5);
    return side < 1 ? 1 : side > RW_LONGEST ? RW_LONGEST : (int)side;
}

/* Which pixel of a side of n the drawn side's pixel i of m shows. */
static int rw_shown(int i, int n, int m, int first, int last, int tiled) {
    if (first + last >= (n < m ? n : m)) first = last = tiled = 0;
    if (i < first) return i;
    if (i >= m - last) return n - (m - i);
    int middle = n - first - last, drawn = m - first - last, step = i - first;
    return first + (tiled ? step % middle : (int)((2LL * step + 1) * middle / (2LL * drawn)));
}

typedef struct { int left, right, top, bottom, tiled; } rw_borders;

static rw_picture rw_resized(rw_bundle *b, rw_picture from, rw_borders kept, int width, int height) {
    rw_picture made = rw_blank(b, width, height);
    for (int y = 0; y < height; y++) {
        for (int x = 0; x < width; x++) {
            rw_copy(&made, x, y, &from, rw_shown(x, from.width, width, kept.left, kept.right, kept.tiled),
                    rw_shown(y, from.height, height, kept.top, kept.bottom, kept.tiled));
        }
    }
    return made;
}

/* How long a side of a piece stands in levels: a unit is a unit there, however it was drawn. */
static int rw_standing(rw_bundle *b, rw_value *piece, int axis) {
    long long side = rw_whole(rw_at(rw_get(piece, "size"), axis)), own = rw_whole(rw_get(piece, "pixels_per_unit"));
    long long unit = rw_whole(rw_get(b->manifest, "pixels_per_unit"));
    if (own < 1 || unit < 1) rw_fail(b, "A unit has no pixels%s.", "");
    long long sized = (2 * side * unit + own) / (2 * own);
    return sized < 1 ? 1 : sized > RW_LONGEST ? RW_LONGEST : (int)sized;
}

/* A piece as it stands in levels. */
static rw_picture rw_standing_piece(rw_bundle *b, rw_value *piece) {
    rw_picture picture = rw_whole_piece(b, piece);
    int width = rw_standing(b, piece, 0), height = rw_standing(b, piece, 1);
    if (width == picture.width && height == picture.height) return picture;
    rw_borders none = {0, 0, 0, 0, 0};
    return rw_resized(b, picture, none, width, height);
}

/* The borders of a side of n pixels that is drawn m pixels long; one is left between them. */
static void rw_sized_ends(int *first, int *last, long long n, int m) {
    long long begin = (2LL * *first * m + n) / (2 * n), end = (2LL * *last * m + n) / (2 * n);
    *first = (int)(begin < m - 1 ? begin : m - 1);
    *last = (int)(end < m - *first - 1 ? end : m - *first - 1);
}

static rw_borders rw_borders_of(rw_bundle *b, rw_value *piece) {
    rw_value *told = rw_get(piece, "borders"), *size = rw_get(piece, "size");
    rw_borders made = {rw_whole(rw_get(told, "left")), rw_whole(rw_get(told, "right")),
                       rw_whole(rw_get(told, "top")), rw_whole(rw_get(told, "bottom")),
                       !strcmp(rw_said(rw_get(told, "middle")), "tiled")};
    if (made.left < 0 || made.right < 0 || made.top < 0 || made.bottom < 0) rw_fail(b, "A border is less than nothing%s.", "");
    if (rw_whole(rw_at(size, 0)) < 1 || rw_whole(rw_at(size, 1)) < 1) return made;
    rw_sized_ends(&made.left, &made.right, rw_whole(rw_at(size, 0)), rw_standing(b, piece, 0));
    rw_sized_ends(&made.top, &made.bottom, rw_whole(rw_at(size, 1)), rw_standing(b, piece, 1));
    return made;
}

static rw_picture rw_rotated(rw_bundle *b, rw_picture from, double *pivot_x, double *pivot_y, int degrees) {
    double angle = degrees * (3.14159265358979323846 / 180);
    double c = floor(RW_PART * cos(angle) + 0.5), s = floor(RW_PART * sin(angle) + 0.5);
    double left = INFINITY, top = INFINITY, right = -INFINITY, bottom = -INFINITY;
    for (int corner = 0; corner < 4; corner++) {
        double x = (corner & 1 ? from.width : 0) - *pivot_x, y = (corner & 2 ? from.height : 0) - *pivot_y;
        double across = (x * c - y * s) / RW_PART, down = (x * s + y * c) / RW_PART;
        left = fmin(left, across), right = fmax(right, across);
        top = fmin(top, down), bottom = fmax(bottom, down);
    }
    left = floor(left), top = floor(top);
    rw_picture made = rw_blank(b, (int)(ceil(right) - left), (int)(ceil(bottom) - top));
    for (int row = 0; row < made.height; row++) {
        for (int column = 0; column < made.width; column++) {
            double u = column + left + 0.5, v = row + top + 0.5;
            rw_copy(&made, column, row, &from, (int)floor((u * c + v * s) / RW_PART + *pivot_x),
                    (int)floor((v * c - u * s) / RW_PART + *pivot_y));
        }
    }
    *pivot_x = -left, *pivot_y = -top;
    return made;
}

/* ---- drawing ---- */

typedef struct {
    rw_bundle *b;
    int x, y, width, height;
    double seconds;
    unsigned char *pixels;
} rw_view;

static double rw_thousandths(double value) { return nearbyint(value * 1000) / 1000; }

static double rw_up(rw_bundle *b, double down) { return b->y_up ? -down : down; }

static int rw_frame(rw_value *animation, double seconds) {
    rw_value *frame = rw_first(rw_get(animation, "frames")), *hold = rw_first(rw_get(animation, "holds"));
    int steps[RW_FRAMES], count = 0;
    for (; frame; frame = frame->next, hold = hold ? hold->next : NULL) {
        for (int i = rw_whole(hold); i > 0 && count < RW_FRAMES; i--) steps[count++] = rw_whole(frame);
    }
    if (!count) return 0;
    const char *play = rw_said(rw_get(animation, "play"));
    double step = floor(seconds * rw_number(rw_get(animation, "rate"), 1));
    if (!strcmp(play, "once")) return steps[step < count - 1 ? (int)step : count - 1];
    int round = !strcmp(play, "loop") || count < 2 ? count : 2 * count - 2, at = (int)fmod(step, round);
    return steps[at < count ? at : 2 * count - 2 - at];
}

static int rw_animated(rw_view *v, int number, const char *name, double phase) {
    const char *sheet = rw_said(rw_get(rw_piece(v->b, number), "sheet"));
    for (rw_value *one = rw_first(rw_get(v->b->manifest, "animations")); one; one = one->next) {
        int meant = name ? !strcmp(rw_said(rw_get(one, "name")), name) && !strcmp(rw_said(rw_get(one, "sheet")), sheet)
                         : rw_is(rw_get(one, "in_cells")) && rw_whole(rw_at(rw_get(one, "frames"), 0)) == number;
        if (meant) return rw_frame(one, v->seconds + phase);
    }
    return number;
}

static int rw_byte(rw_value *share) {
    double byte = floor(rw_number(share, 1) * 255 + 0.5);
    return byte < 0 ? 0 : byte > 255 ? 255 : (int)byte;
}

static void rw_tint(rw_picture *picture, rw_value *tint) {
    if (!tint || tint->kind != RW_LIST) return;
    int shades[3] = {rw_whole(rw_at(tint, 0)), rw_whole(rw_at(tint, 1)), rw_whole(rw_at(tint, 2))};
    for (size_t at = 0; at < (size_t)picture->width * picture->height * 4; at++) {
        if (at % 4 < 3) picture->rgba[at] = (unsigned char)((picture->rgba[at] * shades[at % 4] + 127) / 255);
    }
}

static void rw_blend(rw_view *v, const rw_picture *p, double left, double top, int first, int second) {
    if (left <= -p->width || top <= -p->height || left >= v->width || top >= v->height) return;
    int x = (int)left, y = (int)top;
    for (int row = y < 0 ? -y : 0; row < p->height && y + row < v->height; row++) {
        for (int column = x < 0 ? -x : 0; column < p->width && x + column < v->width; column++) {
            const unsigned char *from = p->rgba + ((size_t)row * p->width + column) * 4;
            unsigned char *to = v->pixels + ((size_t)(y + row) * v->width + x + column) * 3;
            int alpha = from[3];
            if (first != 255) alpha = (alpha * first + 127) / 255;
            if (second != 255) alpha = (alpha * second + 127) / 255;
            for (int c = 0; c < 3 && alpha; c++) to[c] = (unsigned char)((from[c] * alpha + to[c] * (255 - alpha) + 127) / 255);
        }
    }
}

static int rw_tile(rw_bundle *b, int axis) {
    int side = rw_whole(rw_at(rw_get(b->manifest, "tile"), axis));
    if (side < 1) rw_fail(b, "Cells have no size%s.", "");
    return side;
}

static void rw_cell(rw_view *v, rw_value *layer, double column, double row, int number, int turn) {
    int width = rw_tile(v->b, 0), height = rw_tile(v->b, 1);
    double left = column * width - v->x;
    if (left >= v->width || left < -RW_LONGEST) return;
    rw_picture picture = rw_standing_piece(v->b, rw_piece(v->b, rw_animated(v, number, NULL, 0)));
    picture = rw_turned(v->b, picture, turn & 7);
    rw_tint(&picture, rw_get(layer, "tint"));
    rw_blend(v, &picture, left, (row + 1) * height - picture.height - v->y, rw_byte(rw_get(layer, "opacity")), 255);
    rw_free(&v->b->scratch);
}

/* The bytes of a packed block, unpacked once: numbers in 32 bits, row by row, then orientations in
 * 8 bits. */
static const unsigned char *rw_unpacked(rw_bundle *b, rw_value *block, size_t count) {
    if (!block->text) {
        size_t size;
        unsigned char *packed = rw_unwrapped(b, rw_said(rw_get(block, "packed")), &size);
        if (size < 6 || count / 206 > size) rw_fail(b, "A block of cells is broken%s.", "");
        rw_stream s = {b, packed + 2, packed + size, rw_keep(b, count * 5), 0, count * 5, 0, 0};
        rw_inflate(&s);
        if (s.made != s.room) rw_fail(b, "A block of cells is broken%s.", "");
        block->text = (char *)s.out;
        rw_free(&b->scratch);
    }
    return (const unsigned char *)block->text;
}

/* One line of a packed block. */
static void rw_packed(rw_view *v, rw_value *layer, rw_value *block, double line) {
    int x = rw_whole(rw_get(block, "x")), y = rw_whole(rw_get(block, "y"));
    int width = rw_whole(rw_get(block, "width")), height = rw_whole(rw_get(block, "height"));
    if (width < 1 || height < 1 || width > 65536 || height > 65536) rw_fail(v->b, "A block of cells has no size%s.", "");
    if (line < y || line >= (double)y + height) return;
    size_t count = (size_t)width * height, from = (size_t)(line - y) * width;
    const unsigned char *data = rw_unpacked(v->b, block, count);
    for (size_t at = from; at < from + width; at++) {
        const unsigned char *four = data + at * 4;
        int number = four[0] | four[1] << 8 | four[2] << 16 | (four[3] & 0x7F) << 24;
        if (number) rw_cell(v, layer, x + (double)(at - from), line, number, data[count * 4 + at]);
    }
}

/* The row that is the lowest of those after `line`, 1e9 when there is none. */
static double rw_next_line(rw_value *cells, double line) {
    double next = 1e9;
    for (rw_value *row = rw_first(cells); row; row = row->next) {
        double y = rw_whole(rw_get(row, "y")), height = rw_get(row, "packed") ? rw_whole(rw_get(row, "height")) : 1;
        double first = y > line ? y : line + 1;
        if (first < y + height && first < next) next = first;
    }
    return next;
}

/* The cells of one line that lie in a row, in whatever way it tells them. */
static void rw_row(rw_view *v, rw_value *layer, rw_value *row, double line) {
    if (rw_get(row, "packed")) {
        rw_packed(v, layer, row, line);
        return;
    }
    if (rw_whole(rw_get(row, "y")) != line) return;
    int width = rw_tile(v->b, 0);
    double column = rw_whole(rw_get(row, "x"));
    rw_value *turn = rw_first(rw_get(row, "orientations"));
    for (rw_value *number = rw_first(rw_get(row, "numbers")); number; number = number->next, column++) {
        if (rw_whole(number)) rw_cell(v, layer, column, line, rw_whole(number), rw_whole(turn));
        turn = turn ? turn->next : NULL;
    }
    for (rw_value *run = rw_first(rw_get(row, "cells")); run; run = run->next) {
        int number = rw_whole(rw_at(run, 0)), count = rw_whole(rw_at(run, 1));
        double first = floor((v->x - RW_LONGEST) / (double)width) - column;
        double last = ceil((v->x + v->width) / (double)width) - column;
        int end = count < last ? count : (int)fmax(last, 0);
        for (int i = first > 0 ? (int)first : 0; number && i < end; i++) rw_cell(v, layer, column + i, line, number, rw_whole(rw_at(run, 2)));
        column += count;
    }
}

/* Line by line from above, whatever chunks the cells came in: tall tiles reach into lines above. */
static void rw_cells(rw_view *v, rw_value *layer) {
    rw_value *cells = rw_get(layer, "cells");
    int height = rw_tile(v->b, 1);
    double line = floor(v->y / (double)height) - 1;
    double last = ceil(((double)v->y + v->height + RW_LONGEST) / height);
    while ((line = rw_next_line(cells, line)) <= last) {
        for (rw_value *row = rw_first(cells); row; row = row->next) rw_row(v, layer, row, line);
    }
}

static void rw_prop(rw_view *v, rw_value *layer, rw_value *prop) {
    rw_bundle *b = v->b;
    double phase = rw_number(rw_get(prop, "phase"), 0);
    int number = rw_animated(v, rw_whole(rw_get(prop, "piece")), rw_said(rw_get(prop, "animation")), phase);
    rw_value *piece = rw_piece(b, number);
    rw_picture picture = rw_standing_piece(b, piece);
    double unit = b->in_units ? rw_number(rw_get(piece, "pixels_per_unit"), 1) : 1;
    double pivot_x = rw_thousandths(rw_number(rw_at(rw_get(piece, "pivot"), 0), 0) * unit);
    double pivot_y = rw_thousandths(rw_number(rw_at(rw_get(piece, "pivot"), 1), 0) * unit);
    int whole = rw_whole(rw_at(rw_get(piece, "size"), 0)), high = rw_whole(rw_at(rw_get(piece, "size"), 1));
    if (b->y_up) pivot_y = high - pivot_y;
    if (whole > 0) pivot_x = pivot_x * picture.width / whole;
    if (high > 0) pivot_y = pivot_y * picture.height / high;
    int width = rw_drawn_side(picture.width, rw_number(rw_get(prop, "across"), 1));
    int height = rw_drawn_side(picture.height, rw_number(rw_get(prop, "down"), 1));
    if (width != picture.width || height != picture.height) {
        pivot_x = pivot_x * width / picture.width, pivot_y = pivot_y * height / picture.height;
        picture = rw_resized(b, picture, rw_borders_of(b, piece), width, height);
    }
    int turn = rw_whole(rw_get(prop, "orientation")) & 7, degrees = rw_whole(rw_get(prop, "angle")) % 360;
    picture = rw_turned(b, picture, turn);
    if (turn & RW_SWAP) { double swapped = pivot_x; pivot_x = pivot_y, pivot_y = swapped; }
    if (turn & RW_MIRROR) pivot_x = picture.width - pivot_x;
    if (turn & RW_UPSIDE_DOWN) pivot_y = picture.height - pivot_y;
    if (degrees) picture = rw_rotated(b, picture, &pivot_x, &pivot_y, (degrees + 360) % 360);
    rw_tint(&picture, rw_get(prop, "tint"));
    rw_tint(&picture, rw_get(layer, "tint"));
    double x = rw_thousandths(rw_number(rw_get(prop, "x"), 0) * b->unit);
    double y = rw_up(b, rw_thousandths(rw_number(rw_get(prop, "y"), 0) * b->unit));
    x = floor(x - pivot_x) - v->x, y = floor(y - pivot_y) - v->y;
    int across = rw_is(rw_get(layer, "repeated")), down = rw_is(rw_get(layer, "repeated_down"));
    if (across) x -= picture.width * ceil((x + 1) / picture.width);
    if (down) y -= picture.height * ceil((y + 1) / picture.height);
    for (double top = y; top < v->height; top += picture.height) {
        for (double left = x; left < v->width; left += picture.width) {
            rw_blend(v, &picture, left, top, rw_byte(rw_get(prop, "opacity")), rw_byte(rw_get(layer, "opacity")));
            if (!across) break;
        }
        if (!down) break;
    }
    rw_free(&b->scratch);
}

static void rw_layer(rw_view v, rw_value *layer, int from_above) {
    double parallax = rw_number(rw_get(layer, "parallax"), 1);
    if (parallax != 1) v.x = (int)floor(v.x * parallax), v.y = (int)floor(v.y * parallax);
    rw_cells(&v, layer);
    rw_value *props = rw_get(layer, "props");
    int count = props && props->kind == RW_LIST ? props->count : 0;
    rw_value **sorted = rw_keep(v.b, sizeof *sorted * (size_t)(count + 1));
    int placed = 0;
    for (rw_value *prop = rw_first(props); prop && placed < count; prop = prop->next) {
        int at = placed++;
        double y = rw_up(v.b, rw_number(rw_get(prop, "y"), 0));
        while (from_above && at && rw_up(v.b, rw_number(rw_get(sorted[at - 1], "y"), 0)) > y) {
            sorted[at] = sorted[at - 1];
            at--;
        }
        sorted[at] = prop;
    }
    for (int i = 0; i < placed; i++) rw_prop(&v, layer, sorted[i]);
}

static void rw_draw_level(rw_view v, rw_value *level) {
    rw_value *background = rw_get(level, "background");
    for (size_t at = 0; at < (size_t)v.width * v.height * 3; at++) v.pixels[at] = (unsigned char)rw_whole(rw_at(background, (int)(at % 3)));
    int from_above = !strcmp(rw_said(rw_get(level, "view")), "top-down");
    for (rw_value *layer = rw_first(rw_get(level, "layers")); layer; layer = layer->next) {
        if (rw_is(rw_get(layer, "visible"))) rw_layer(v, layer, from_above);
    }
}

int rw_draw(rw_bundle *b, const char *level, int x, int y, int width, int height, double seconds,
            unsigned char *pixels, char problem[200]) {
    if (setjmp(b->failed)) {
        snprintf(problem, 200, "%s", b->problem);
        rw_free(&b->scratch);
        return 0;
    }
    rw_view v = {b, x, y, width, height, seconds, pixels};
    for (int i = 0; i < b->level_count; i++) {
        if (!strcmp(rw_said(rw_get(b->levels[i], "name")), level)) {
            rw_draw_level(v, b->levels[i]);
            return 1;
        }
    }
    rw_fail(b, "There is no level “%.90s” in this bundle.", level);
    return 0;
}

#endif
