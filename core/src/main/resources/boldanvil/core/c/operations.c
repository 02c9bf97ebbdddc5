/* Functions for operations whose meaning C leaves open; each is in a source that uses it. */

/* --- ba_raise */
/* Notes a fault: its kind, and the place of a new kind unless another place is noted. */
static void ba_raise(int32_t *fault, uint32_t kind, int32_t place)
{
    uint32_t f = (uint32_t)*fault;
    if ((f & (1U << kind)) == 0U) {
        if ((f >> 12) == 0U) {
            f |= (kind << 12) | ((uint32_t)place << 16);
        }
        *fault = (int32_t)(f | (1U << kind));
    }
}

/* --- ba_to_int32 */
/* Truncates and saturates; what is not a number becomes 0 and raises fault bit 2. */
static int32_t ba_to_int32(double v, int32_t *fault, int32_t place)
{
    if (v != v) {
        ba_raise(fault, 1U, place);
        return 0;
    }
    if (v >= 2147483647.0) {
        return INT32_MAX;
    }
    if (v <= -2147483648.0) {
        return INT32_MIN;
    }
    return (int32_t)v;
}

/* --- ba_to_uint32 */
static uint32_t ba_to_uint32(double v, int32_t *fault, int32_t place)
{
    if (v != v) {
        ba_raise(fault, 1U, place);
        return 0U;
    }
    if (v >= 4294967295.0) {
        return UINT32_MAX;
    }
    return v <= 0.0 ? 0U : (uint32_t)v;
}

/* --- ba_saturate */
static int32_t ba_saturate(int32_t v, int32_t least, int32_t greatest)
{
    return v < least ? least : (v > greatest ? greatest : v);
}

/* --- ba_saturate_unsigned */
static uint32_t ba_saturate_unsigned(uint32_t v, uint32_t greatest)
{
    return v > greatest ? greatest : v;
}

/* --- ba_positive */
static uint32_t ba_positive(int32_t v)
{
    return v < 0 ? 0U : (uint32_t)v;
}

/* --- ba_divide */
/* Division by zero yields 0 and raises fault bit 1; the one quotient that overflows wraps. */
static int32_t ba_divide(int32_t a, int32_t b, int32_t *fault, int32_t place)
{
    if (b == 0) {
        ba_raise(fault, 0U, place);
        return 0;
    }
    return b == -1 ? (int32_t)(0U - (uint32_t)a) : a / b;
}

/* --- ba_divide_unsigned */
static uint32_t ba_divide_unsigned(uint32_t a, uint32_t b, int32_t *fault, int32_t place)
{
    if (b == 0U) {
        ba_raise(fault, 0U, place);
        return 0U;
    }
    return a / b;
}

/* --- ba_remainder */
static int32_t ba_remainder(int32_t a, int32_t b, int32_t *fault, int32_t place)
{
    if (b == 0) {
        ba_raise(fault, 0U, place);
        return 0;
    }
    return b == -1 ? 0 : a % b;
}

/* --- ba_remainder_unsigned */
static uint32_t ba_remainder_unsigned(uint32_t a, uint32_t b, int32_t *fault, int32_t place)
{
    if (b == 0U) {
        ba_raise(fault, 0U, place);
        return 0U;
    }
    return a % b;
}

/* --- ba_shift_left */
static uint32_t ba_shift_left(uint32_t v, uint32_t n)
{
    return n > 31U ? 0U : v << n;
}

/* --- ba_shift_right */
/* Keeps the sign. */
static int32_t ba_shift_right(int32_t v, uint32_t n)
{
    uint32_t k = n > 31U ? 31U : n;
    return v < 0 ? (int32_t)~(~(uint32_t)v >> k) : (int32_t)((uint32_t)v >> k);
}

/* --- ba_shift_right_unsigned */
static uint32_t ba_shift_right_unsigned(uint32_t v, uint32_t n)
{
    return n > 31U ? 0U : v >> n;
}

/* --- ba_index */
static int32_t ba_index(int32_t i, int32_t size)
{
    return i < 0 ? 0 : (i >= size ? size - 1 : i);
}

/* --- ba_float32_to_uint32 */
static uint32_t ba_float32_to_uint32(float v)
{
    uint32_t bits;
    memcpy(&bits, &v, sizeof bits);
    return bits;
}

/* --- ba_uint32_to_float32 */
static float ba_uint32_to_float32(uint32_t bits)
{
    float v;
    memcpy(&v, &bits, sizeof v);
    return v;
}

/* --- ba_high_of_float64 */
static uint32_t ba_high_of_float64(double v)
{
    uint64_t bits;
    memcpy(&bits, &v, sizeof bits);
    return (uint32_t)(bits >> 32);
}

/* --- ba_low_of_float64 */
static uint32_t ba_low_of_float64(double v)
{
    uint64_t bits;
    memcpy(&bits, &v, sizeof bits);
    return (uint32_t)(bits & 0xFFFFFFFFU);
}

/* --- ba_halves_to_float64 */
static double ba_halves_to_float64(uint32_t high, uint32_t low)
{
    uint64_t bits = ((uint64_t)high << 32) | low;
    double v;
    memcpy(&v, &bits, sizeof v);
    return v;
}
