~VERSION INFORMATION
 VERS.                 2.0:   CWLS LOG ASCII STANDARD -VERSION 2.0
 WRAP.                  NO:   ONE LINE PER DEPTH STEP
~WELL INFORMATION BLOCK
#MNEM.UNIT           DATA                    DESCRIPTION OF MNEMONIC
#---------    -------------------            -------------------------------
# Generated from Intellog Unique Number	CX_WELLS/WELL/3716
WELL.         PETROREP HOUSE                 : Well_name    - WELL
LOC .         00/01-05-085-15W4/0            : Location     - LOCATION
UWI .         00/01-05-085-15W400            : Uwi          - UNIQUE WELL ID
ENTR.         T                              : Entered      - ENTERED BY
SRVC.         SCHLUMBERGER                   : Scn          - SERVICE COMPANY
STRT.M        100                            : top_depth    - START DEPTH
STOP.M        280                            : bot_depth    - STOP DEPTH
STEP.M        0.25                           : increment    - STEP LENGTH
 NULL. -999.2500:NULL Value
~CURVE INFORMATION BLOCK
#MNEM UNIT       ERCB CURVE CODE    CURVE DESCRIPTION
#-----------   ------------------   ----------------------------------
DEPT.M        00 001 00 00         : DEPTH        - DEPTH
GR  .API      00 310 00 00         : GR           - GAMMA RAY
NPHI.V/V      00 330 00 00         : PHIN         - NEUTRON POROSITY (SANDSTONE)
DPHI.V/V      00 890 00 00         : PHID         - DENSITY POROSITY (SANDSTONE)
ILD .OHMM     00 120 00 00         : RESD         - DEEP RESISTIVITY (DIL)
~PARAMETER INFORMATION
#MNEM.UNIT           DATA             DESCRIPTION OF MNEMONIC
#---------         -----------     ------------------------------
GL  .M        531.9                : gl           - GROUND LEVEL ELEVATION
EREF.M        535.5                : kb           - ELEVATION OF DEPTH REFERENCE
DATM.M        535.5                : datum        - DATUM ELEVATION
TDD .M        285                  : tdd          - TOTAL DEPTH DRILLER
RUN .         ONE                  : Run          - RUN NUMBER
ENG .         BILL                 : Engineer     - RECORDING ENGINEER
WIT .         JIM                  : Witness      - WITNESSED BY
MUD .         GEL                  : Mud_type     - MUD TYPE
MATR.         SANDSTONE            : Logunit      - NEUTRON MATRIX
TMAX.C        18                   : BHT          - MAXIMUM RECORDED TEMPERATURE
BHTD.M        285                  : BHTDEP       - MAXIMUM RECORDED TEMPERATURE
MATR.         1                    : LOGUNIT      - NEUTRON MATRIX
RMT .C        20                   : MDTP         - TEMPERATURE OF MUD
NEUT.         1                    : NEUTRON      - NEUTRON TYPE
RESI.         2.4                  : RESIST       - RESISTIVITY TYPE
RMC .OHMM     1.8                  : RMC          - RESISTIVITY OF MUD CAKE
RMF .OHMM     2.4                  : RMF          - RESISTIVITY OF MUD FILTRATE
SUFT.C        4                    : SUFT         - SURFACE TEMPERATURE
~A  DEPTH       GR     PHIN     PHID     RESD
  100.000   89.628    0.396    0.332   14.499
  100.250   90.322    0.392    0.338   13.976
  100.500   89.781    0.389    0.333   13.729
  100.750   91.101    0.389    0.326   13.502
  101.000   92.404    0.396    0.314   13.269
  101.250   95.603    0.403    0.292   13.290
  101.500  100.680    0.413    0.272   13.310
  101.750   95.112    0.409    0.278   13.325
  102.000   82.030    0.393    0.288   12.859
  102.250   73.941    0.380    0.287   12.632
  102.500   73.382    0.363    0.275   12.176
  102.750   91.000    0.354    0.259   11.309
  103.000   95.485    0.352    0.254   10.499
  103.250   98.040    0.354    0.250    9.934
  103.500  102.491    0.356    0.230    9.220
  103.750  109.447    0.374    0.217    8.563
  104.000  119.567    0.406    0.213    8.257
  104.250  123.375    0.447    0.209    7.522
  104.500  122.817    0.451    0.203    7.115
  104.750  121.649    0.451    0.197    6.360
  105.000  120.448    0.451    0.190    5.798
  105.250  121.768    0.451    0.186    5.484
  105.500  126.253    0.456    0.191    5.286
  105.750  125.711    0.462    0.197    5.002
  106.000  125.119    0.474    0.205    4.643
  106.250  124.560    0.487    0.213    4.394
  106.500  127.150    0.497    0.216    4.157
  106.750  129.096    0.511    0.209    4.085
  107.000  131.042    0.514    0.211    4.763
  107.250  129.841    0.510    0.220    6.103
  107.500  124.273    0.500    0.260    7.249
  107.750  116.200    0.482    0.267    8.291
  108.000  105.606    0.429    0.276    9.666
  108.250   93.167    0.425    0.288   10.643
