/* Start-up of a bare Cortex-M4F: stack, vectors, initialised and zeroed memory, floating-point unit. */
#include <stdint.h>

extern uint32_t image_stack_top;
extern uint32_t image_data_load;
extern uint32_t image_data_begin;
extern uint32_t image_data_end;
extern uint32_t image_zero_begin;
extern uint32_t image_zero_end;

int main(void);
void reset_handler(void);
void stop_handler(void);

/* Access control of the coprocessors (ARMv7-M Architecture Reference Manual, B3.2.20). */
#define COPROCESSOR_ACCESS (*(volatile uint32_t *)0xE000ED88U)

void reset_handler(void)
{
    uint32_t *from = &image_data_load;
    uint32_t *to;
    COPROCESSOR_ACCESS |= 0xFU << 20;
    __asm volatile("dsb\n\tisb");
    for (to = &image_data_begin; to < &image_data_end; to++) {
        *to = *from++;
    }
    for (to = &image_zero_begin; to < &image_zero_end; to++) {
        *to = 0U;
    }
    (void)main();
    stop_handler();
}

void stop_handler(void)
{
    for (;;) {
    }
}

__attribute__((section(".vectors"), used)) const uintptr_t image_vectors[16] = {
    (uintptr_t)&image_stack_top, (uintptr_t)reset_handler, (uintptr_t)stop_handler, (uintptr_t)stop_handler,
    (uintptr_t)stop_handler, (uintptr_t)stop_handler, (uintptr_t)stop_handler, 0U, 0U, 0U, 0U, (uintptr_t)stop_handler,
    (uintptr_t)stop_handler, 0U, (uintptr_t)stop_handler, (uintptr_t)stop_handler
};
