// SPDX-License-Identifier: GPL-3.0-or-later
// A bare matrix of four strobes and three sense lines with pull-ups, switches closed as a table says. Strobes are
// low in turn. Expected: the sense levels of each scan, strobe 0 first, in matrix.txt.
`timescale 1ns/1ns
module matrix;
  reg [3:0] s = 4'hF;
  reg [11:0] closed = 0;          // bit 3*strobe + sense
  wire [2:0] k;
  genvar g;
  generate for (g = 0; g < 3; g = g + 1) begin : col
    assign #300 k[g] = ~((~s[0] & closed[g]) | (~s[1] & closed[3+g]) | (~s[2] & closed[6+g]) | (~s[3] & closed[9+g]));
  end endgenerate
  integer i, j, f;
  initial begin
    $dumpfile("matrix.vcd"); $dumpvars(0, matrix.s, matrix.k);
    f = $fopen("matrix.txt");
    #60000;
    for (i = 0; i < 40; i = i + 1) begin
      closed = (i % 4 == 0) ? 12'h000 : (i % 4 == 1) ? 12'h001 << (i % 12) : (i % 4 == 2) ? 12'h204 : 12'h012;
      for (j = 0; j < 4; j = j + 1) begin
        s[j] = 0; #20000;
        $fwrite(f, "%0d%0d%0d", k[0], k[1], k[2]);
        s[j] = 1; #5000;
      end
      $fwrite(f, "\n");
      #150000;
    end
    $fclose(f); $finish;
  end
endmodule
