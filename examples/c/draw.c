/* SPDX-FileCopyrightText: The authors of Rushweed
 * SPDX-License-Identifier: MIT */

/* Draws a level of a bundle to a PPM picture.
 *
 *     cc -O2 draw.c -o draw -lm
 *     ./draw BUNDLE_FOLDER LEVEL X Y WIDTH HEIGHT SECONDS > level.ppm
 */
#define RUSHWEED_IMPLEMENTATION
#include "rushweed.h"

int main(int count, char **words) {
    char problem[200] = "";
    if (count != 8) {
        fprintf(stderr, "usage: %s BUNDLE_FOLDER LEVEL X Y WIDTH HEIGHT SECONDS > level.ppm\n", words[0]);
        return 2;
    }
    int width = atoi(words[5]), height = atoi(words[6]);
    if (width < 1 || height < 1 || width > 16384 || height > 16384) {
        fprintf(stderr, "A picture is 1 to 16384 pixels wide and high.\n");
        return 2;
    }
    unsigned char *pixels = malloc((size_t)width * height * 3);
    rw_bundle *bundle = rw_open(words[1], problem);
    int drawn = bundle && pixels && rw_draw(bundle, words[2], atoi(words[3]), atoi(words[4]), width,
                                            height, atof(words[7]), pixels, problem);
    if (drawn) {
        printf("P6\n%d %d\n255\n", width, height);
        fwrite(pixels, 3, (size_t)width * height, stdout);
    } else {
        fprintf(stderr, "%s\n", problem);
    }
    rw_close(bundle);
    free(pixels);
    return drawn ? 0 : 1;
}
