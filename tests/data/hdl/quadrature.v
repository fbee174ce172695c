// SPDX-License-Identifier: GPL-3.0-or-later
// A two-bit Gray counter that turns forward and backward at changing speed. Expected: steps forward and backward
// and the final position in quadrature.txt.
`timescale 1ns/1ns
module quadrature;
  reg [1:0] s = 0;
  wire a = s[1] ^ s[0], b = s[1];
  integer i, k, f, fwd, bwd;
  initial begin
    $dumpfile("quadrature.vcd"); $dumpvars(0, quadrature.a, quadrature.b);
    f = $fopen("quadrature.txt"); fwd = 0; bwd = 0;
    #100000;
    for (i = 0; i < 24; i = i + 1)
      for (k = 0; k < 5 + (i * 7) % 19; k = k + 1) begin
        if (i % 3 == 2) begin s = s - 1; bwd = bwd + 1; end else begin s = s + 1; fwd = fwd + 1; end
        #(300000 + (i % 5) * 80000);
      end
    $fdisplay(f, "%0d %0d %0d", fwd, bwd, fwd - bwd);
    $fclose(f); $finish;
  end
endmodule
