/*
 * What the generated code needs of a board. Whoever brings it to a new board implements these functions; nothing else
 * touches hardware. Units and channels count from 0. All functions return at once.
 */
#ifndef BOARD_IO_H
#define BOARD_IO_H

#include <stdbool.h>
#include <stdint.h>

/* The newest count of an analog input, triggered at the start of the tick. */
uint16_t board_adc_read(uint8_t unit, uint8_t channel);

/* Sets a PWM timer: clock divider, counts of a period (of half a period when centre aligned), alignment. */
void board_pwm_setup(uint8_t timer, uint16_t prescaler, uint16_t period, bool centre);

/* Sets the compare count of a PWM channel, 0 to the period; it takes effect with the next period. */
void board_pwm_write(uint8_t timer, uint8_t channel, uint16_t compare);

/* The counter of an encoder timer, counting fourfold and wrapping. */
uint16_t board_encoder_read(uint8_t timer);

/* The level at a pin; pins count in the order of the board file. */
bool board_digital_read(uint8_t pin);
void board_digital_write(uint8_t pin, bool level);

/* Tells the watchdog that a tick was completed. */
void board_watchdog(void);

/* Implemented by the generated code; call board_start once, then board_tick from the timer interrupt. */
void board_start(void);
void board_tick(void);

/* The memory that measurement and tuning work on. */
void *board_memory(void);

#endif
