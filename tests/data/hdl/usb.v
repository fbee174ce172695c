// SPDX-License-Identifier: GPL-3.0-or-later
// A low-speed link as circuit: NRZI, bit stuffing, CRC5 and CRC16 as serial registers fed bit by bit (the
// published figures of the specification, worked out here independently of Gray Relic). A reset, then IN tokens
// answered with DATA0/DATA1 and ACK, or NAK. Expected: identifier bytes and data in usb.txt.
`timescale 1ns/1ps
module usb;
  reg dp = 0, dm = 1;
  integer i, k, n, f, ones;
  reg [4:0] c5; reg [15:0] c16;
  reg [7:0] bytes [0:7];
  localparam real T = 666.667;
  task j; begin dp = 0; dm = 1; end endtask
  task raw(input b); begin if (!b) begin dp = ~dp; dm = ~dm; end #(T); end endtask
  task bitout(input b); begin
    raw(b);
    if (b) begin ones = ones + 1; if (ones == 6) begin raw(0); ones = 0; end end else ones = 0;
  end endtask
  task sync; begin for (k = 0; k < 7; k = k + 1) raw(0); raw(1); ones = 1; end endtask
  task eop; begin dp = 0; dm = 0; #(2*T); j; #(T); end endtask
  task byteout(input [7:0] v); begin for (k = 0; k < 8; k = k + 1) bitout(v[k]); end endtask
  task crc5bit(input b); begin c5 = (c5[4] ^ b) ? ((c5 << 1) ^ 5'h05) : (c5 << 1); end endtask
  task crc16bit(input b); begin c16 = (c16[15] ^ b) ? ((c16 << 1) ^ 16'h8005) : (c16 << 1); end endtask
  task token(input [7:0] pid, input [6:0] addr, input [3:0] ep); begin
    $fdisplay(f, "%0d", pid);
    sync; byteout(pid); c5 = 5'h1F;
    for (k = 0; k < 7; k = k + 1) begin bitout(addr[k]); crc5bit(addr[k]); end
    for (k = 0; k < 4; k = k + 1) begin bitout(ep[k]); crc5bit(ep[k]); end
    for (k = 4; k >= 0; k = k - 1) bitout(~c5[k]);
    eop; #(2*T);
  end endtask
  task data(input [7:0] pid, input integer count); begin
    $fwrite(f, "%0d", pid);
    sync; byteout(pid); c16 = 16'hFFFF;
    for (n = 0; n < count; n = n + 1) begin
      $fwrite(f, " %02h", bytes[n]);
      for (k = 0; k < 8; k = k + 1) begin bitout(bytes[n][k]); crc16bit(bytes[n][k]); end
    end
    $fwrite(f, "\n");
    for (k = 15; k >= 0; k = k - 1) bitout(~c16[k]);
    eop; #(2*T);
  end endtask
  task hand(input [7:0] pid); begin $fdisplay(f, "%0d", pid); sync; byteout(pid); eop; end endtask
  initial begin
    $dumpfile("usb.vcd"); $dumpvars(0, usb.dp, usb.dm);
    f = $fopen("usb.txt");
    #20000;
    dp = 0; dm = 0; #12000; j; #20000;
    for (i = 0; i < 20; i = i + 1) begin
      token(8'h69, 7'd3, 4'd1);
      if (i % 5 == 4) hand(8'h5A);
      else begin
        bytes[0] = i * 13; bytes[1] = 8'hFF; bytes[2] = 8'hFF - i; bytes[3] = 8'h7E;
        data(i % 2 == 0 ? 8'hC3 : 8'h4B, 4);
        hand(8'hD2);
      end
      #400000;
    end
    $fclose(f); $finish;
  end
endmodule
