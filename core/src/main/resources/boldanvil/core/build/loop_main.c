/*
 * Runs the part for a partner on the serial line, one request after the other, all numbers little endian:
 *   0 to 3, inputs        init, sample, step or advance; the inputs are the first @INPUTS@ bytes of the context struct
 *   4, offset, n, bytes   writes n bytes of the context struct; offset has two bytes
 * Each is answered by the instructions it took, four bytes, and by the whole context struct.
 */
#include "@PART@.h"

#include <string.h>

/* A serial port of the CMSDK kind: data, state, control, baud rate divider. */
#define PORT_DATA (*(volatile uint32_t *)(@UART@U + 0U))
#define PORT_STATE (*(volatile uint32_t *)(@UART@U + 4U))
#define PORT_CONTROL (*(volatile uint32_t *)(@UART@U + 8U))
#define PORT_DIVIDER (*(volatile uint32_t *)(@UART@U + 16U))

/* The system timer (ARMv7-M Architecture Reference Manual, B3.3). */
#define TIMER_CONTROL (*(volatile uint32_t *)0xE000E010U)
#define TIMER_RELOAD (*(volatile uint32_t *)0xE000E014U)
#define TIMER_NOW (*(volatile uint32_t *)0xE000E018U)

#define INPUT_BYTES @INPUTS@U

int main(void);

static union {
    @CONTEXT@ part;
    uint8_t bytes[sizeof(@CONTEXT@)];
} context;

static uint8_t get(void)
{
    while ((PORT_STATE & 2U) == 0U) {
    }
    return (uint8_t)PORT_DATA;
}

static void put(uint8_t byte)
{
    while ((PORT_STATE & 1U) != 0U) {
    }
    PORT_DATA = byte;
}

static void call(uint8_t entry)
{
    switch (entry) {
    case 0U:
        @PART@_init(&context.part);
        break;
    case 1U:
        @PART@_sample(&context.part);
        break;
    case 2U:
        @PART@_step(&context.part);
        break;
    default:
        @PART@_advance(&context.part);
        break;
    }
}

int main(void)
{
    PORT_DIVIDER = 16U;
    PORT_CONTROL = 3U;
    TIMER_RELOAD = 0xFFFFFFU;
    TIMER_CONTROL = 5U;
    @PART@_init(&context.part);
    for (;;) {
        uint8_t request = get();
        uint32_t begin;
        uint32_t counts = 0U;
        uint32_t i;
        if (request == 4U) {
            uint32_t offset = get();
            uint8_t n;
            offset |= (uint32_t)get() << 8;
            n = get();
            for (i = 0U; i < n; i++) {
                uint8_t byte = get();
                if (offset + i < sizeof context.bytes) {
                    context.bytes[offset + i] = byte;
                }
            }
        } else {
#if INPUT_BYTES > 0U
            for (i = 0U; i < INPUT_BYTES; i++) {
                context.bytes[i] = get();
            }
#endif
            begin = TIMER_NOW;
            call(request);
            counts = (begin - TIMER_NOW) & 0xFFFFFFU;
        }
        for (i = 0U; i < 4U; i++) {
            put((uint8_t)(counts >> (8U * i)));
        }
        for (i = 0U; i < sizeof context.bytes; i++) {
            put(context.bytes[i]);
        }
    }
}
