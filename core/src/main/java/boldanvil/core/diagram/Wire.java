package boldanvil.core.diagram;

/** A directed connection from an output to an input, by block id (on the system sheet: part id) and port name. */
public record Wire(String from, String fromPort, String to, String toPort) {}
