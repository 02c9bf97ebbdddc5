package boldanvil.standin.plc;

/** What can be wrong with a PLC on purpose, to see what happens. */
enum PlcFault {
    NONE,
    /** Nothing gets through the network. */
    CABLE_OUT,
    /** Each scan takes 50 ms longer. */
    SLOW_SCAN,
    /** Numbers are sent as texts. */
    WRONG_TYPE
}
