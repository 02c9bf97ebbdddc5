/**
 * Planning of patches: {@link boldanvil.core.patch.PatchCheck} finds conflicts and proposes solutions, {@link
 * boldanvil.core.patch.AutoPatch} searches places, {@link boldanvil.core.patch.BoardChange} and {@link boldanvil.core.patch.PinSwap} plan
 * moves, and {@link boldanvil.core.patch.WiringTable} lists the wires. {@link boldanvil.core.patch.Placement} alone knows which terminals
 * exclude each other.
 */
package boldanvil.core.patch;
