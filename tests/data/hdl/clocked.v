// SPDX-License-Identifier: GPL-3.0-or-later
// A shift register behind a select line, clock resting high, data moving after the fall and read at the rise
// (mode 3), one to three bytes a selection. Expected values in clocked.txt.
`timescale 1ns/1ns
module clocked;
  reg cs = 1, sck = 1;
  reg [7:0] value = 8'hE1, sh;
  wire so;
  assign #35 so = sh[7];
  integer i, j, k, f;
  initial begin
    $dumpfile("clocked.vcd"); $dumpvars(0, clocked.cs, clocked.sck, clocked.so);
    f = $fopen("clocked.txt");
    sh = 0; #30000;
    for (i = 0; i < 30; i = i + 1) begin
      cs = 0; #1500;
      for (j = 0; j <= i % 3; j = j + 1) begin
        $fdisplay(f, "%0d", value);
        for (k = 7; k >= 0; k = k - 1) begin
          sck = 0; sh = {value[k], 7'b0}; #500 sck = 1; #500;
        end
        value = {value[6:0], value[7] ^ value[5] ^ value[4] ^ value[3]};
      end
      #1000 cs = 1; #(40000 + (i % 7) * 3000);
    end
    $fclose(f); $finish;
  end
endmodule
