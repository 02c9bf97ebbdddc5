/* Functions of peripherals; each is in a board file that uses it. */

/* --- count_of */
/* A value in units of one count, rounded to the nearest and limited to 0 and the greatest count. */
static uint32_t count_of(double value, double greatest)
{
    double count = floor(value + 0.5);
    return count > 0.0 ? (uint32_t)(count < greatest ? count : greatest) : 0U;
}

/* --- moved */
/* How far a wrapping counter has moved, if that is less than half its range. */
static int32_t moved(uint32_t now, uint32_t last, uint32_t top)
{
    uint32_t up = (now - last) & top;
    return up > top / 2U ? -(int32_t)(top - up) - 1 : (int32_t)up;
}

/* --- put_bytes */
static void put_bytes(uint8_t *to, uint64_t bits, uint8_t n, bool high_first)
{
    uint8_t i;
    for (i = 0U; i < n; i++) {
        to[high_first ? n - 1U - i : i] = (uint8_t)(bits >> (8U * i));
    }
}

/* --- get_bytes */
static uint64_t get_bytes(const uint8_t *from, uint8_t n, bool high_first)
{
    uint64_t bits = 0U;
    uint8_t i;
    for (i = 0U; i < n; i++) {
        bits |= (uint64_t)from[high_first ? n - 1U - i : i] << (8U * i);
    }
    return bits;
}

/* --- place_of */
/* The place of a bit of a signal: byte times 8 and bit of the byte; high byte first, signals begin with their highest bit. */
static uint8_t place_of(uint8_t start, uint8_t length, uint8_t bit, bool high_first)
{
    uint8_t place = start;
    uint8_t i;
    if (!high_first) {
        return (uint8_t)(start + bit);
    }
    for (i = (uint8_t)(length - 1U); i > bit; i--) {
        place = (uint8_t)(place % 8U == 0U ? place + 15U : place - 1U);
    }
    return place;
}

/* --- put_field */
static void put_field(uint8_t *to, uint8_t start, uint8_t length, bool high_first, double value, double offset, double factor, double least, double greatest)
{
    double count = floor((value - offset) / factor + 0.5);
    uint32_t bits = (uint32_t)(int64_t)(count > least ? (count < greatest ? count : greatest) : least);
    uint8_t i;
    for (i = 0U; i < length; i++) {
        uint8_t place = place_of(start, length, i, high_first);
        to[place / 8U] = (uint8_t)(to[place / 8U] | (((bits >> i) & 1U) << (place % 8U)));
    }
}

/* --- get_field */
static double get_field(const uint8_t *from, uint8_t start, uint8_t length, bool high_first)
{
    uint32_t bits = 0U;
    uint8_t i;
    for (i = 0U; i < length; i++) {
        uint8_t place = place_of(start, length, i, high_first);
        bits |= (uint32_t)((from[place / 8U] >> (place % 8U)) & 1U) << i;
    }
    return (double)bits;
}

/* --- counted */
/* A count above the greatest one of its bits is a negative one. */
static double counted(double count, double greatest, double all)
{
    return count > greatest ? count - all : count;
}

/* --- sum_of */
static uint64_t sum_of(const uint8_t *bytes, uint8_t n)
{
    uint8_t sum = 0U;
    uint8_t i;
    for (i = 0U; i < n; i++) {
        sum = (uint8_t)(sum + bytes[i]);
    }
    return sum;
}

/* --- crc16_of */
/* ITU-T V.41, from 0xFFFF. */
static uint64_t crc16_of(const uint8_t *bytes, uint8_t n)
{
    uint32_t crc = 0xFFFFU;
    uint8_t i;
    uint8_t k;
    for (i = 0U; i < n; i++) {
        crc ^= (uint32_t)bytes[i] << 8;
        for (k = 0U; k < 8U; k++) {
            crc = (crc & 0x8000U) != 0U ? (crc << 1) ^ 0x1021U : crc << 1;
        }
        crc &= 0xFFFFU;
    }
    return crc;
}

/* --- crc32_of */
/* IEEE 802.3. */
static uint64_t crc32_of(const uint8_t *bytes, uint8_t n)
{
    uint32_t crc = 0xFFFFFFFFU;
    uint8_t i;
    uint8_t k;
    for (i = 0U; i < n; i++) {
        crc ^= bytes[i];
        for (k = 0U; k < 8U; k++) {
            crc = (crc & 1U) != 0U ? (crc >> 1) ^ 0xEDB88320U : crc >> 1;
        }
    }
    return crc ^ 0xFFFFFFFFU;
}
