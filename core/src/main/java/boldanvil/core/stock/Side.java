package boldanvil.core.stock;

/** A side of a block. */
public enum Side { LEFT, TOP, RIGHT, BOTTOM }
