/* The board functions of a stand-in: they read and write a register block that the bench process shares. */
#include "board_io.h"

#include <stddef.h>

struct standin_registers {
    uint16_t adc[4][16];
    uint16_t pwm_compare[4][4];
    uint16_t pwm_period[4];
    uint16_t pwm_prescaler[4];
    uint16_t encoder[4];
    uint8_t digital_in[64];
    uint8_t digital_out[64];
    uint32_t watchdog;
};

typedef char standin_layout[sizeof(struct standin_registers) == 316 ? 1 : -1];
typedef char standin_watchdog[offsetof(struct standin_registers, watchdog) == 312 ? 1 : -1];

static struct standin_registers *registers;

void standin_attach(struct standin_registers *block);

void standin_attach(struct standin_registers *block)
{
    registers = block;
}

uint16_t board_adc_read(uint8_t unit, uint8_t channel)
{
    return registers->adc[unit & 3U][channel & 15U];
}

void board_pwm_setup(uint8_t timer, uint16_t prescaler, uint16_t period, bool centre)
{
    (void)centre;
    registers->pwm_prescaler[timer & 3U] = prescaler;
    registers->pwm_period[timer & 3U] = period;
}

void board_pwm_write(uint8_t timer, uint8_t channel, uint16_t compare)
{
    registers->pwm_compare[timer & 3U][channel & 3U] = compare;
}

uint16_t board_encoder_read(uint8_t timer)
{
    return registers->encoder[timer & 3U];
}

bool board_digital_read(uint8_t pin)
{
    return registers->digital_in[pin & 63U] != 0U;
}

void board_digital_write(uint8_t pin, bool level)
{
    registers->digital_out[pin & 63U] = level ? 1U : 0U;
}

void board_watchdog(void)
{
    registers->watchdog++;
}
