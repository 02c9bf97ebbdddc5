/**
 * What hardware and limits do to a loop: {@link boldanvil.core.asbuilt.AsBuilt} puts the delays of converters, computing and timers into a
 * project; {@link boldanvil.core.asbuilt.LoopCheck} holds the sheet with all its limits, ideal and as built, against the linear prediction.
 */
package boldanvil.core.asbuilt;
