package boldanvil.core.diagram;

/** A side of a block, in clockwise order. */
public enum Side {
    LEFT, TOP, RIGHT, BOTTOM;

    /** The side after some quarter turns clockwise. */
    public Side turned(int quarters) {
        return values()[Math.floorMod(ordinal() + quarters, 4)];
    }

    /** The side in a mirror with an upright axis. */
    public Side mirrored() {
        return isUpright() ? turned(2) : this;
    }

    /** Whether it is the left or the right side, which wires leave horizontally. */
    public boolean isUpright() {
        return this == LEFT || this == RIGHT;
    }
}
