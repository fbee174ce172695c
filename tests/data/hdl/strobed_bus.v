// SPDX-License-Identifier: GPL-3.0-or-later
// An eight-bit port with a strobe: data settles 3 us before the rise and stays 4 us. Expected values in
// strobed_bus.txt.
`timescale 1ns/1ns
module strobed_bus;
  reg stb = 1;
  reg [7:0] d = 0, value = 8'h2D;
  integer i, f;
  initial begin
    $dumpfile("strobed_bus.vcd"); $dumpvars(0, strobed_bus.stb, strobed_bus.d);
    f = $fopen("strobed_bus.txt");
    #40000;
    for (i = 0; i < 60; i = i + 1) begin
      d = value; #1000 stb = 0; #2000 stb = 1;
      $fdisplay(f, "%0d", value);
      #(4000 + (i % 4) * 500);
      value = {value[6:0], value[7] ^ value[5] ^ value[4] ^ value[3]};
    end
    $fclose(f); $finish;
  end
endmodule
